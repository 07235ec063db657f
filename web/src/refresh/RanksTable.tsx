import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { DataTable, type Column } from '../pieces/DataTable';
import { day, decimal, number, shortUrl } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { nameOf, words } from '../api/words';
import { moveSign, ranksQuery, type Rank } from './useRanks';
import ui from '../pieces/ui.module.css';

const ignore = () => undefined;

/** A captured position; a dash where the site is not in the list, nothing where there is no list. */
const position = (value: number | null) =>
  value === null ? '' : value === 0 ? '–' : decimal(value, value % 1 ? 1 : 0);

/** Where the site stands on two days, for each keyword, cluster or page. */
export function RanksTable({
  list,
  host,
  onTally,
}: {
  list: ListState;
  host: string | undefined;
  onTally: (tally: React.ReactNode) => void;
}) {
  const [page, setPage] = useState<Schema['RanksPage']>();
  const query = ranksQuery(list);
  const isKeyword = query.Group === 'keyword';
  useEffect(() => {
    if (!page) return;
    const of = (move: Schema['RankMove']) => page.moves[move] ?? 0;
    onTally(
      <>
        <span>
          <b>{number(page.tally.rows)}</b> {query.Group}
          {page.tally.rows === 1 ? '' : 's'}
        </span>
        <span>
          up <b>{number(of('up'))}</b>, down <b>{number(of('down'))}</b>, arrived <b>{number(of('arrived'))}</b>, left{' '}
          <b>{number(of('left'))}</b>, same <b>{number(of('same'))}</b> keywords
        </span>
        <span className={ui.gap} />
        {page.from && page.to && (
          <span>
            {day(page.from)} with {day(page.to)}
          </span>
        )}
      </>,
    );
  }, [page, onTally, query.Group]);
  const columns: Column<Rank>[] = [
    {
      key: 'name',
      title: query.Group === 'page' ? 'Page' : query.Group === 'cluster' ? 'Cluster' : 'Keyword',
      width: 'minmax(170px, 1.8fr)',
      render: (r) => <span title={r.name}>{query.Group === 'page' ? shortUrl(r.name, host) : r.name}</span>,
    },
    ...(isKeyword
      ? [
          {
            key: 'cluster',
            title: 'Cluster',
            width: 'minmax(120px, 1fr)',
            yields: 3,
            render: (r: Rank) => <span className={ui.second}>{r.clusterName}</span>,
          },
        ]
      : [
          { key: 'keywords', title: 'Keywords', width: '62px', numeric: true, render: (r: Rank) => number(r.keywords) },
          {
            key: 'pageOne',
            title: 'On page one',
            width: '78px',
            numeric: true,
            render: (r: Rank) => `${number(r.pageOneBefore)} → ${number(r.pageOneAfter)}`,
          },
        ]),
    { key: 'volume', title: 'Volume, est.', width: '72px', numeric: true, render: (r) => number(r.volume) },
    { key: 'before', title: 'Before', width: '50px', numeric: true, render: (r) => position(r.before) },
    { key: 'after', title: 'After', width: '46px', numeric: true, render: (r) => <b>{position(r.after)}</b> },
    {
      key: 'move',
      title: 'Move',
      width: '82px',
      render: (r) => (
        <span className={r.move === 'down' || r.move === 'left' ? ui.clay : r.move === 'same' ? ui.second : undefined}>
          {moveSign[r.move]} {r.move === 'unknown' ? '' : nameOf(words.rankMoves, r.move)}
        </span>
      ),
    },
    {
      key: 'counted',
      title: 'Counted avg.',
      yields: 1,
      width: '92px',
      numeric: true,
      render: (r) => (
        <span
          className={ui.second}
          title="Average position in search performance, the seven days to each of the two days"
        >
          {r.countedBefore === null ? '' : `${decimal(r.countedBefore, 1)} → `}
          {decimal(r.countedAfter, 1)}
        </span>
      ),
    },
    {
      key: 'clicks',
      title: '± clicks, est.',
      name: 'Change of clicks, estimated',
      yields: 2,
      width: '76px',
      numeric: true,
      render: (r) => {
        const by = Math.round(r.clicksAfter - r.clicksBefore);
        return r.before === null || by === 0 ? '' : `${by > 0 ? '+' : '−'}${number(Math.abs(by))}`;
      },
    },
    {
      key: 'url',
      title: 'Own page',
      width: 'minmax(140px, 1.4fr)',
      render: (r) => r.url && query.Group !== 'page' && <span title={r.url}>{shortUrl(r.url, host)}</span>,
    },
  ];
  return (
    <DataTable<Rank, string>
      name="ranks"
      query={query}
      read={async (range) => {
        const read = await answer(api.GET('/api/ranks', { params: { query: { ...query, ...range } } }));
        if (range.Offset === 0) setPage(read);
        return read;
      }}
      columns={columns}
      list={list}
      idOf={(r) => r.id}
      selected={list.text('rank')}
      onSelect={(r) => list.set({ rank: r.id })}
      onTally={ignore}
      empty={
        page && page.days.length === 0 ? (
          <p>
            Nothing was captured yet, so that no position is known. Capture result lists on the Results stage; with a
            schedule they are captured again by themselves.
          </p>
        ) : (
          <p>No rows match. Remove a condition above.</p>
        )
      }
    />
  );
}
