import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { number, shortUrl } from '../pieces/format';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { FindingPane } from './FindingPane';
import { isConflict, kindName, kinds, states, type Finding, type Kind } from './says';

const help = [
  { keys: 'a', does: 'accept: it is so, and something will be done' },
  { keys: 'd', does: 'dismiss, with a reason' },
  { keys: 'r', does: 'resolved' },
  { keys: 'o', does: 'open again' },
];

/** What is flagged, most at stake first. */
export function FindingsScreen() {
  const list = useListState();
  const project = useProject().data;
  const host = project?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [dismissing, setDismissing] = useState(false);
  useKeyHelp(help);
  const state = list.text('state');
  const query = {
    ...list.listing,
    Kind: list.text('kind') as Kind | undefined,
    State: state === 'any' ? undefined : (state as Finding['state'] | undefined),
    AnyState: state === 'any' ? true : undefined,
  };
  const selected = list.text('id');
  const decide = useChange(
    ({ key, state: next, reason }: { key: string; state: Finding['state']; reason?: string }) =>
      answer(
        api.PUT('/api/findings/{key}', { params: { path: { key } }, body: { state: next, reason: reason ?? null } }),
      ),
    (row) => `${row.clusterName}: ${row.state}.`,
  );
  const columns: Column<Finding>[] = [
    {
      key: 'kind',
      title: 'Finding',
      width: '118px',
      render: (r) => <span className={isConflict(r.kind) ? 'clay' : undefined}>{kindName(r.kind)}</span>,
    },
    {
      key: 'clusterName',
      title: 'Cluster',
      width: 'minmax(140px, 1.8fr)',
      render: (r) => <span title={r.clusterName}>{r.clusterName}</span>,
    },
    {
      key: 'pageUrl',
      title: 'Page',
      width: 'minmax(110px, 1.6fr)',
      render: (r) =>
        r.pageUrl ? <span title={r.pageUrl}>{shortUrl(r.pageUrl, host)}</span> : <span className="quiet">none</span>,
    },
    {
      key: 'otherPageUrl',
      title: 'In its way',
      width: 'minmax(110px, 1.6fr)',
      render: (r) => (r.otherPageUrl ? <span title={r.otherPageUrl}>{shortUrl(r.otherPageUrl, host)}</span> : ''),
    },
    { key: 'demand', title: 'Demand', width: '62px', numeric: true, render: (r) => number(r.demand) },
    { key: 'atStake', title: 'At stake', width: '62px', numeric: true, render: (r) => <b>{number(r.atStake)}</b> },
    { key: 'state', title: 'State', width: '76px', render: (r) => r.state },
  ];
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Findings</h1>
            <span className="second cut">at stake: clicks a month, estimated; it orders work, it is no forecast</span>
            <span className="gap" />
            <Button href={exportUrl('/api/findings.csv', query)}>Export CSV</Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="Kind"
              any="every kind"
              value={query.Kind}
              options={kinds}
              onChange={(kind) => list.set({ kind })}
            />
            that is
            <Choice
              label="State"
              any="open or accepted"
              value={state}
              options={[...states, { value: 'any', says: 'in any state' }]}
              onChange={(value) => list.set({ state: value })}
            />
          </div>
          <DataTable
            name="findings"
            query={query}
            read={(Offset, Limit) =>
              answer(api.GET('/api/findings', { params: { query: { ...query, Offset, Limit } } }))
            }
            columns={columns}
            list={list}
            idOf={(r) => r.key}
            selected={selected}
            onSelect={(r) => {
              setDismissing(false);
              list.set({ id: r.key });
            }}
            onKey={(key, row) => {
              if (!row || row.key !== selected) return false;
              if (key === 'a') decide.mutate({ key: row.key, state: 'accepted' });
              else if (key === 'r') decide.mutate({ key: row.key, state: 'resolved' });
              else if (key === 'o') decide.mutate({ key: row.key, state: 'open' });
              else if (key === 'd') setDismissing(true);
              else return false;
              return true;
            }}
            onTally={setTally}
            empty={
              query.Search || query.Kind || state ? (
                <NotYet title="No finding fits">
                  Take a condition out of the sentence above, or search for something else.
                </NotYet>
              ) : project?.groupedAt ? (
                <NotYet title="Nothing is open">
                  Every finding was settled, or there was none. New results or pages are looked at as they come in.
                </NotYet>
              ) : (
                <NotYet title="No findings yet">
                  They are computed once keywords are grouped, on the stage Clusters.
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        selected ? (
          <FindingPane
            key={selected}
            findingKey={selected}
            host={host}
            dismissing={dismissing}
            setDismissing={setDismissing}
            decide={(next, reason) => decide.mutate({ key: selected, state: next, reason })}
          />
        ) : (
          <>
            <h2>Select a finding</h2>
            <p>What shows it, what is at stake and what can be done are told here.</p>
          </>
        )
      }
      tally={<Tally tally={tally} noun="finding" demand={false} atStake="at stake" />}
    />
  );
}
