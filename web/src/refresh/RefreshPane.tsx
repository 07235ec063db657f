import { useQueries, useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, day, number, shortDay, shortUrl } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { words } from '../api/words';
import { useRefreshState } from './StateLine';
import { periodOf } from './useRefresh';
import ui from '../pieces/ui.module.css';

/** What is worth knowing about the site's queries: how many stand out in which way, and which pages fade. */
export function RefreshPane({ host, list }: { host: string | undefined; list: ListState }) {
  const state = useRefreshState().data;
  const period = periodOf(list);
  const counts = useQueries({
    queries: words.queryMarks.map((m) => ({
      queryKey: keyOf('marked queries', m.value, JSON.stringify(period)),
      enabled: state?.hasRows ?? false,
      queryFn: () =>
        answer(
          api.GET('/api/refresh/queries', {
            params: {
              query: { ...period, Marks: m.value, Irrelevant: m.value === 'irrelevant' || undefined, Limit: 0 },
            },
          }),
        ),
    })),
  });
  const fading = useQuery({
    queryKey: keyOf('fading pages', JSON.stringify(period)),
    enabled: (state?.fading ?? 0) > 0,
    queryFn: () =>
      answer(
        api.GET('/api/refresh/pages', {
          params: { query: { ...period, IsFading: true, Sort: 'lost', Descending: true, Limit: 12 } },
        }),
      ),
  });
  const keywords = useChange(
    () =>
      answer(api.POST('/api/refresh/keywords', { body: { items: null, filter: null, search: null, period: null } })),
    (r) => `${counted(r.queries, 'query', 'queries')} with their counts, ${number(r.new)} new keywords.`,
  );
  if (!state) return null;
  if (!state.hasRows)
    return (
      <>
        <h2>What this stage is for</h2>
        <p>
          It goes through what the site is found for: queries that a page never mentions, that rank just below page one,
          that get fewer clicks than their position earns, and pages that lose clicks.
        </p>
        <p>
          <Link to="/site">Read or import search performance</Link>
        </p>
      </>
    );
  return (
    <>
      <h2>What stands out</h2>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Queries</th>
            <th className={ui.num}>Count</th>
            <th className={ui.num}>At stake, a month</th>
          </tr>
        </thead>
        <tbody>
          {words.queryMarks.map((m, i) => (
            <tr key={m.value}>
              <td>
                <Link to={`/refresh?view=queries&${m.value === 'irrelevant' ? 'ignored=1' : `marks=${m.value}`}`}>
                  {m.name}
                </Link>
              </td>
              <td className={ui.num}>{number(counts[i]?.data?.tally.rows)}</td>
              <td className={ui.num}>{number(counts[i]?.data?.tally.atStake)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={ui.quiet}>
        Clicks and impressions are the site’s real counts; volumes are estimates. At stake is for prioritising, not a
        forecast.
      </p>
      <hr />
      <h2>Fading pages</h2>
      {state.fading === 0 ? (
        <p>
          No page loses clicks beyond chance and beyond the site as a whole. Compared are the last 28 days with the same
          days a year before.
        </p>
      ) : (
        <>
          <table className={ui.facts}>
            <thead>
              <tr>
                <th>Page</th>
                <th>Since</th>
                <th className={ui.num}>Clicks a month lost</th>
              </tr>
            </thead>
            <tbody>
              {fading.data?.rows.map((p) => (
                <tr key={p.id}>
                  <td className={ui.url}>
                    <Link to={`/refresh?id=${p.id}`} title={p.url}>
                      {shortUrl(p.url, host)}
                    </Link>
                  </td>
                  <td>{p.fading && shortDay(p.fading.since)}</td>
                  <td className={ui.num}>{number(p.fading?.lost)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {state.fading > (fading.data?.rows.length ?? 0) && (
            <p>
              <Link to="/refresh?fading=1&sort=lost&down=1">All {counted(state.fading, 'fading page')}</Link>
            </p>
          )}
        </>
      )}
      <hr />
      <h2>As a keyword source</h2>
      <p>Adds all queries of the last 90 days as keywords, with their real counts.</p>
      <div className={ui.acts}>
        <Button loading={keywords.isPending} onClick={() => keywords.mutate(undefined)}>
          Add all queries to the keywords
        </Button>
      </div>
      <p className={ui.quiet}>
        Known from {day(state.first)} to {day(state.last)}; the latest two days are preliminary.
      </p>
    </>
  );
}
