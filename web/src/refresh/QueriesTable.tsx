import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { queryEvidence } from '../api/evidence';
import { useKeyHelp } from '../app/keys';
import { DataTable, type Column } from '../pieces/DataTable';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { usePicks } from '../pieces/usePicks';
import { PerformanceTally } from './PerformanceTally';
import { QueryActions } from './QueryActions';
import { EmptyPerformance } from './EmptyPerformance';
import styles from './refresh.module.css';
import { change, marksOf, mentionsOf, rate } from './says';
import { itemOf, useQueryWork } from './useQueryWork';
import { periodOf, type Query, type RefreshQuery } from './useRefresh';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'm', does: 'mention the query on its page' },
  { keys: 'a', does: 'answer it' },
  { keys: 's', does: 'give it a section' },
  { keys: 'Space', does: 'pick a row, for several at once' },
];

const byKey: Record<string, Schema['QueryWork']> = { m: 'mention', a: 'answer', s: 'section' };
const ignore = () => undefined;

/** All queries of all pages, those with most at stake first. */
export function QueriesTable({
  list,
  query,
  host,
  onTally,
}: {
  list: ListState;
  query: RefreshQuery;
  host: string | undefined;
  onTally: (tally: React.ReactNode) => void;
}) {
  useKeyHelp(help);
  const picks = usePicks(list, String);
  const [page, setPage] = useState<Schema['QueryListPage']>();
  const { work } = useQueryWork(periodOf(list), ignore);
  useEffect(() => {
    if (page) onTally(<PerformanceTally page={page} noun={page.tally.rows === 1 ? 'query' : 'queries'} />);
  }, [page, onTally]);
  const columns: Column<Query>[] = [
    {
      key: 'query',
      title: 'Query',
      width: 'minmax(170px, 1.6fr)',
      render: (r) => <span title={r.query}>{r.query}</span>,
    },
    {
      key: 'page',
      title: 'Page',
      width: 'minmax(140px, 1.2fr)',
      render: (r) => (
        <span className={ui.second} title={r.url}>
          {shortUrl(r.url, host)}
        </span>
      ),
    },
    { key: 'clicks', title: 'Clicks', width: '46px', numeric: true, render: (r) => number(r.now.clicks) },
    {
      key: 'change',
      title: '±',
      name: 'Change of clicks',
      yields: 1,
      width: '42px',
      numeric: true,
      render: (r) => <span className={ui.second}>{change(r.now.clicks, r.before?.clicks)}</span>,
    },
    {
      key: 'impressions',
      title: 'Impr.',
      name: 'Impressions',
      yields: 3,
      width: '50px',
      numeric: true,
      render: (r) => number(r.now.impressions),
    },
    {
      key: 'clickRate',
      title: 'Rate, earned',
      yields: 2,
      width: '92px',
      numeric: true,
      render: (r) => (
        <span title="Clicks for each impression, and what its position earns">
          {rate(r.now.clickRate)} <span className={ui.second}>{rate(r.expectedRate)}</span>
        </span>
      ),
    },
    {
      key: 'position',
      title: 'Pos.',
      name: 'Position',
      width: '38px',
      numeric: true,
      render: (r) => decimal(r.now.position, 1),
    },
    {
      key: 'mentions',
      title: 'Ment.',
      name: 'Mentions',
      yields: 4,
      width: '44px',
      numeric: true,
      render: (r) => (
        <span className={r.mentions === 0 ? ui.clay : ui.second} title={mentionsOf(r.mentions, r.places)}>
          {r.mentions ?? '–'}
        </span>
      ),
    },
    {
      key: 'cluster',
      title: '',
      name: 'Cluster',
      width: '22px',
      sorts: false,
      render: (r) =>
        r.clusterName && (
          <span
            className={ui.second}
            title={`${r.clusterName}: ${r.isHome ? 'this is its page' : r.homeUrl ? `its page is ${r.homeUrl}` : 'it has no page'}`}
          >
            {r.isHome ? '■' : r.homeUrl ? '◩' : '□'}
          </span>
        ),
    },
    {
      key: 'marks',
      title: 'Marks',
      width: 'minmax(80px, 1fr)',
      sorts: false,
      render: (r) => (
        <span className={styles.marks} title={marksOf(r.marks)}>
          {marksOf(r.marks)}
        </span>
      ),
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '54px',
      numeric: true,
      render: (r) => <b title="Clicks a month">{r.atStake < 10 ? decimal(r.atStake, 1) : number(r.atStake)}</b>,
    },
  ];
  const selected = list.text('id') && list.text('query') ? `${list.text('id')}-${list.text('query')}` : undefined;
  return (
    <>
      {picks.ids.size > 0 && (
        <div className={`${ui.says} ${ui.picked}`}>
          <b>{counted(picks.ids.size, 'query', 'queries')} picked</b>
          <QueryActions items={[...picks.ids].map(itemOf)} period={periodOf(list)} done={() => picks.clear()} />
          <Button size="small" type="text" onClick={() => picks.clear()}>
            Clear selection
          </Button>
        </div>
      )}
      <DataTable<Query, string>
        name="queries"
        query={query}
        read={async (range) => {
          const read = await answer(api.GET('/api/refresh/queries', { params: { query: { ...query, ...range } } }));
          if (range.Offset === 0) setPage(read);
          return read;
        }}
        columns={columns}
        list={list}
        idOf={(r) => r.id}
        selected={selected}
        onSelect={(r) => list.set({ id: r.pageId, query: r.queryId })}
        onKey={(key, row, next) => {
          const wanted = byKey[key];
          if (!row || row.id !== selected || !wanted) return false;
          work.mutate({ work: wanted, items: [itemOf(row.id)] });
          next();
          return true;
        }}
        onTally={ignore}
        picks={picks}
        evidenceOf={(r) => queryEvidence(r.pageId, r.queryId, periodOf(list))}
        empty={<EmptyPerformance noun="query" />}
      />
    </>
  );
}
