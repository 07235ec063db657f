import type { Column } from '../pieces/DataTable';
import { number } from '../pieces/format';
import { isConflict, stateOf, type Finding, type Kind } from './says';
import ui from '../pieces/ui.module.css';

/** The columns of the table of findings; of one kind they say what that kind is about. */
export function findingColumns(kind: Kind | undefined): Column<Finding>[] {
  const isOfCluster = kind === 'uncovered' || kind === 'missingLinks';
  return [
    {
      key: 'pageUrl',
      title: kind === 'uncovered' ? 'Cluster' : kind === 'missingLinks' ? 'Topic' : 'About',
      width: 'minmax(150px, 2fr)',
      sorts: !isOfCluster,
      render: (r) => (
        <span className={isConflict(r) && !kind ? ui.clay : undefined} title={r.subject}>
          {r.subject}
        </span>
      ),
    },
    ...(kind
      ? []
      : [
          {
            key: 'kind',
            title: 'Finding',
            width: '92px',
            yields: 3,
            render: (r: Finding) => r.name,
          } satisfies Column<Finding>,
        ]),
    {
      key: 'says',
      title: 'What shows it',
      width: 'minmax(130px, 1.6fr)',
      sorts: false,
      render: (r) => <span title={r.says}>{r.says}</span>,
    },
    ...(isOfCluster
      ? [
          {
            key: 'demand',
            title: 'Demand',
            width: '68px',
            numeric: true,
            render: (r: Finding) => number(r.demand),
          } satisfies Column<Finding>,
        ]
      : [
          {
            key: 'clusterName',
            title: 'Cluster',
            yields: 2,
            width: 'minmax(100px, 1.1fr)',
            render: (r: Finding) =>
              r.clusterName ? (
                <span title={r.clusterName}>{r.clusterName}</span>
              ) : (
                <span className={ui.quiet}>none</span>
              ),
          } satisfies Column<Finding>,
        ]),
    {
      key: 'assignee',
      title: 'Assignee',
      yields: 1,
      width: '76px',
      render: (r) => <span title={r.note || r.assignee}>{r.assignee || (r.note ? 'noted' : '')}</span>,
    },
    { key: 'atStake', title: 'At stake', width: '62px', numeric: true, render: (r) => <b>{number(r.atStake)}</b> },
    {
      key: 'state',
      title: 'State',
      width: '76px',
      render: (r) => <span title={stateOf(r)}>{stateOf(r)}</span>,
    },
  ];
}
