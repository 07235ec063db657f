import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { KeywordCount } from '../pieces/Expected';
import { decimal, number, shortUrl } from '../pieces/format';
import { PlotMark } from '../pieces/PlotMark';
import { SeasonCell } from '../pieces/Season';
import ui from '../pieces/ui.module.css';

type Row = Schema['ClusterRow'];

/** The columns of the table of clusters. @param drifted Ids of clusters whose results drifted apart. */
export const clusterColumns = (host: string | undefined, drifted: ReadonlySet<number | null>): Column<Row>[] => [
  { key: 'mark', title: '', name: 'Coverage', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.mark} /> },
  {
    key: 'name',
    title: 'Cluster',
    width: 'minmax(140px, 2.2fr)',
    render: (r) => (
      <span title={r.name}>
        {r.name}
        {r.isLocked && <span className={ui.quiet}> locked</span>}
        {drifted.has(r.id) && <span className={ui.clay}> drifted</span>}
      </span>
    ),
  },
  {
    key: 'size',
    title: 'Keywords',
    width: '64px',
    numeric: true,
    render: (r) => <KeywordCount captured={r.size} expected={r.expected} />,
  },
  { key: 'demand', title: 'Demand', width: '54px', numeric: true, render: (r) => number(r.demand) },
  { key: 'season', title: 'By month', yields: 4, width: '96px', render: (r) => <SeasonCell season={r.season} /> },
  {
    key: 'meanDifficulty',
    title: 'Diff.',
    name: 'Mean difficulty',
    yields: 3,
    width: '34px',
    numeric: true,
    render: (r) => decimal(r.meanDifficulty, 0),
  },
  {
    key: 'intent',
    title: 'Intent',
    yields: 5,
    width: '92px',
    render: (r) => r.intent ?? <span className={ui.quiet}>not known</span>,
  },
  {
    key: 'cohesion',
    title: 'Cohesion',
    yields: 2,
    width: '56px',
    numeric: true,
    render: (r) => decimal(r.cohesion, 2),
  },
  {
    key: 'weakMembers',
    title: 'Weak',
    name: 'Weak members',
    yields: 1,
    width: '38px',
    numeric: true,
    render: (r) => (r.weakMembers > 0 ? number(r.weakMembers) : <span className={ui.quiet}>0</span>),
  },
  {
    key: 'atStake',
    title: 'At stake',
    width: '50px',
    numeric: true,
    render: (r) => (r.atStake >= 0.5 ? number(r.atStake) : <span className={ui.quiet}>0</span>),
  },
  {
    key: 'topicName',
    title: 'Topic',
    width: 'minmax(120px, 1.2fr)',
    render: (r) => r.topicName && <span title={r.topicName}>{r.topicName}</span>,
  },
  {
    key: 'pageUrl',
    title: 'Page',
    width: 'minmax(150px, 1.6fr)',
    render: (r) =>
      r.pageUrl ? (
        <span title={r.pageUrl}>{shortUrl(r.pageUrl, host)}</span>
      ) : (
        <span className={ui.quiet}>no page</span>
      ),
  },
];
