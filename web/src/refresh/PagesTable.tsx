import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { refreshPageEvidence } from '../api/evidence';
import { DataTable, type Column } from '../pieces/DataTable';
import { day, decimal, number, shortUrl } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { EmptyPerformance } from './EmptyPerformance';
import { PerformanceTally } from './PerformanceTally';
import { change } from './says';
import { periodOf, type PageRow, type RefreshQuery } from './useRefresh';
import ui from '../pieces/ui.module.css';

const ignore = () => undefined;
const some = (count: number) => (count === 0 ? '' : number(count));
const month = new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' });

/** The pages with what their queries tell, those with most at stake first. */
export function PagesTable({
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
  const [page, setPage] = useState<Schema['PageQueriesPage']>();
  useEffect(() => {
    if (page) onTally(<PerformanceTally page={page} noun={page.tally.rows === 1 ? 'page' : 'pages'} />);
  }, [page, onTally]);
  const count = (
    key: 'queries' | 'notMentioned' | 'belowPageOne' | 'underClicked',
    title: string,
    width: string,
    yields?: number,
  ): Column<PageRow> => ({
    key,
    title,
    width,
    numeric: true,
    render: (r) => some(r[key]),
    ...(yields && { yields }),
  });
  const columns: Column<PageRow>[] = [
    {
      key: 'url',
      title: 'Page',
      width: 'minmax(160px, 2fr)',
      render: (r) => <span title={`${r.url}\n${r.title ?? ''}`}>{shortUrl(r.url, host)}</span>,
    },
    {
      key: 'clicks',
      title: 'Clicks',
      width: '46px',
      numeric: true,
      render: (r) => (r.state === 'shown' || r.state === 'tooNew' ? number(r.now.clicks) : '–'),
    },
    {
      key: 'change',
      title: '±',
      width: '44px',
      numeric: true,
      render: (r) => <span className={ui.second}>{change(r.now.clicks, r.before?.clicks)}</span>,
    },
    {
      key: 'impressions',
      title: 'Impr.',
      width: '54px',
      numeric: true,
      render: (r) => (r.now.impressions > 0 ? number(r.now.impressions) : '–'),
    },
    { key: 'position', title: 'Pos.', width: '42px', numeric: true, render: (r) => decimal(r.now.position, 1) },
    count('queries', 'Queries', '52px', 2),
    count('notMentioned', 'No ment.', '56px'),
    count('belowPageOne', 'Page two', '54px'),
    count('underClicked', 'Under-cl.', '54px', 3),
    {
      key: 'lost',
      title: 'State',
      width: 'minmax(80px, 1.2fr)',
      render: (r) =>
        r.fading ? (
          <span
            className={ui.clay}
            title={`Fading since ${day(r.fading.since)}: ${number(r.fading.lost)} clicks a month lost`}
          >
            fading −{number(r.fading.lost)}
          </span>
        ) : (
          <span className={ui.second} title={r.stateSays}>
            {r.stateSays}
          </span>
        ),
    },
    {
      key: 'age',
      title: 'Changed',
      width: '62px',
      yields: 1,
      render: (r) => {
        const newest = r.modifiedOn ?? r.publishedOn;
        return (
          <span
            className={r.pastYear ? ui.clay : ui.second}
            title={r.pastYear ? `Its title mentions ${r.pastYear}` : newest ? day(newest) : 'It does not say'}
          >
            {newest ? month.format(new Date(newest)) : '–'}
            {r.pastYear && ' *'}
          </span>
        );
      },
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '52px',
      numeric: true,
      render: (r) => <b title="Clicks a month">{some(Math.round(r.atStake))}</b>,
    },
  ];
  return (
    <DataTable
      name="pages with queries"
      query={query}
      read={async (range) => {
        const read = await answer(api.GET('/api/refresh/pages', { params: { query: { ...query, ...range } } }));
        if (range.Offset === 0) setPage(read);
        return read;
      }}
      columns={columns}
      list={list}
      idOf={(r) => r.id}
      selected={list.text('id')}
      evidenceOf={(r) => refreshPageEvidence(r.id, periodOf(list))}
      onSelect={(r) => list.set({ id: r.id, query: undefined })}
      onTally={ignore}
      empty={<EmptyPerformance noun="page" />}
    />
  );
}
