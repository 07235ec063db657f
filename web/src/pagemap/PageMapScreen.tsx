import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useCallback, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import { focusList, useKeyHelp } from '../app/keys';
import { DataTable, type Column } from '../pieces/DataTable';
import { Bound, Choice } from '../pieces/FilterSentence';
import { decimal, number, shortUrl } from '../pieces/format';
import { marks, PlotLegend, PlotMark, type Mark } from '../pieces/PlotMark';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { useListState } from '../pieces/useListState';
import { isFiltered } from '../site/SiteScreen';
import { ClearPane } from './ClearPane';
import { WhichPane } from './WhichPane';
import { MappingPane, type Wish } from './MappingPane';
import { Progress } from './Progress';

type Row = Schema['ClusterRow'];

const help = [
  { keys: 'a', does: 'accept the suggested page, and go on' },
  { keys: '1 to 8', does: 'choose that candidate, and go on' },
  { keys: 'd', does: 'decline: no page is wanted' },
  { keys: 'o', does: 'choose any other page' },
  { keys: 'n', does: 'plan a new page' },
  { keys: 'x', does: 'unassign the page' },
];

/** The page map: each cluster gets one page. */
export function PageMapScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [wish, setWish] = useState<Wish>();
  const [clearShown, setClearShown] = useState(false);
  useKeyHelp(help);
  const decided = list.text('decided');
  const query = {
    ...list.listing,
    Decided: decided === undefined ? undefined : decided === 'yes',
    Verdict: list.text('verdict') as Row['verdict'] | undefined,
    MinDemand: list.numeric('demand'),
    Mark: list.text('mark') as Mark | undefined,
  };
  const selected = list.text('id');
  const phrase = list.text('phrase');

  const assign = useChange(
    ({ cluster, page, version }: { cluster: number; page: number; version?: string | null }) =>
      answer(
        api.PUT('/api/page-map/{clusterId}', {
          params: { path: { clusterId: cluster } },
          body: { pageId: page, version },
        }),
      ),
    (row) => `${row.name} goes to ${row.pageUrl ? shortUrl(row.pageUrl, host) : 'its page'}.`,
  );
  const clear = useChange(
    ({ cluster, version }: { cluster: number; version?: string | null }) =>
      answer(
        api.DELETE('/api/page-map/{clusterId}', {
          params: { path: { clusterId: cluster }, query: { version: version ?? undefined } },
        }),
      ),
    (row) => `${row.name} has no page now.`,
  );
  const clearLeft = useClearLeft();
  const choose = useCallback(
    async (cluster: number, place: number) => {
      const mapping = await answer(api.GET('/api/page-map/{clusterId}', { params: { path: { clusterId: cluster } } }));
      const candidate = mapping.candidates[place - 1];
      if (candidate) assign.mutate({ cluster, page: candidate.page.pageId, version: mapping.cluster.version });
    },
    [assign],
  );

  const columns: Column<Row>[] = [
    { key: 'mark', title: '', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.mark} /> },
    { key: 'name', title: 'Cluster', width: 'minmax(150px, 2fr)', render: (r) => <span title={r.name}>{r.name}</span> },
    { key: 'demand', title: 'Demand', width: '60px', numeric: true, render: (r) => number(r.demand) },
    {
      key: 'pageUrl',
      title: 'Page',
      width: 'minmax(120px, 1.8fr)',
      render: (r) =>
        r.pageUrl ? (
          <span title={r.pageUrl}>
            {shortUrl(r.pageUrl, host)}
            {r.pageKind === 'planned' && <span className="quiet"> planned</span>}
          </span>
        ) : (
          <span className="quiet" title={r.declined ?? undefined}>
            {r.declined ? 'declined' : 'not decided'}
          </span>
        ),
    },
    {
      key: 'suggestedUrl',
      title: 'Suggested page',
      width: 'minmax(120px, 1.8fr)',
      render: (r) =>
        r.pageId !== null && r.pageId === r.suggestedPageId ? (
          <span className="quiet">the same</span>
        ) : r.suggestedUrl ? (
          <span title={r.suggestedUrl}>{shortUrl(r.suggestedUrl, host)}</span>
        ) : (
          <span className="quiet">none: plan a page</span>
        ),
    },
    { key: 'strength', title: 'Strength', width: '60px', numeric: true, render: (r) => decimal(r.strength, 0) },
    { key: 'verdict', title: 'Verdict', width: '66px', render: (r) => r.verdict ?? '–' },
  ];
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Page map</h1>
            <span className="second cut">each cluster gets exactly one page</span>
            <span className="gap" />
            {clearLeft > 0 && <Button onClick={() => setClearShown(true)}>Look at {number(clearLeft)} clear</Button>}
          </div>
          <Progress />
          <div className="says">
            Showing{' '}
            <Choice
              label="Decided"
              any="decided or not"
              value={decided}
              options={[
                { value: 'no', says: 'clusters to decide' },
                { value: 'yes', says: 'decided clusters' },
              ]}
              onChange={(value) => list.set({ decided: value })}
            />
            with
            <Choice
              label="Verdict"
              any="any verdict"
              value={query.Verdict ?? undefined}
              options={[
                { value: 'clear', says: 'a clear suggestion' },
                { value: 'doubtful', says: 'a doubtful suggestion' },
                { value: 'none', says: 'no suggestion' },
              ]}
              onChange={(verdict) => list.set({ verdict })}
            />
            <span className="comma">,</span>
            <Bound
              label="Least demand"
              any="any demand"
              value={query.MinDemand}
              says={(v) => `demand from ${number(v)}`}
              onChange={(demand) => list.set({ demand })}
            />
            and
            <Choice
              label="Mark"
              any="any mark"
              value={query.Mark}
              options={marks.map((value) => ({ value, says: value }))}
              onChange={(mark) => list.set({ mark })}
            />
          </div>
          <DataTable
            name="page map"
            query={query}
            read={(Offset, Limit) =>
              answer(
                api.GET('/api/clusters', {
                  params: { query: { ...query, Verdict: query.Verdict ?? undefined, Offset, Limit } },
                }),
              )
            }
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => {
              setWish(undefined);
              setClearShown(false);
              list.set({ phrase: undefined, id: r.id });
            }}
            onKey={(key, row, next) => {
              if (!row || String(row.id) !== selected) return false;
              if (key === 'a' && row.suggestedPageId !== null) {
                assign.mutate({ cluster: row.id, page: row.suggestedPageId, version: row.version });
                next();
              } else if (key === 'n') setWish('new');
              else if (key === 'd') setWish('decline');
              else if (key === 'o') setWish('other');
              else if (key === 'x' && (row.pageId !== null || row.declined))
                clear.mutate({ cluster: row.id, version: row.version });
              else if (/^[1-8]$/.test(key)) {
                void choose(row.id, Number(key));
                next();
              } else return false;
              return true;
            }}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No cluster fits">Remove a condition above, or search for something else.</NotYet>
              ) : (
                <NotYet title="No clusters yet">Group keywords on the Clusters stage first.</NotYet>
              )
            }
          />
        </>
      }
      pane={
        phrase ? (
          <WhichPane phrase={phrase} host={host} close={() => list.set({ phrase: undefined })} />
        ) : clearShown ? (
          <ClearPane host={host} close={() => setClearShown(false)} />
        ) : selected ? (
          <MappingPane
            key={selected}
            clusterId={Number(selected)}
            host={host}
            wish={wish}
            setWish={setWish}
            assign={(page, version) =>
              assign.mutate({ cluster: Number(selected), page, version }, { onSuccess: focusList })
            }
            clear={(version) => clear.mutate({ cluster: Number(selected), version })}
          />
        ) : (
          <>
            <h2>Select a cluster</h2>
            <p>Candidate pages and their evidence appear here. Move with the arrow keys, accept with a.</p>
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="cluster" keywords>
          <PlotLegend />
        </Tally>
      }
    />
  );
}

/** How many undecided clusters have a clear suggestion. */
function useClearLeft() {
  const clear = useQuery({
    queryKey: ['clear-left'],
    queryFn: () =>
      answer(api.GET('/api/clusters', { params: { query: { Decided: false, Verdict: 'clear', Limit: 0 } } })),
  });
  return clear.data?.tally.rows ?? 0;
}
