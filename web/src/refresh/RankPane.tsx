import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { shortUrl } from '../pieces/format';
import { Lines } from '../pieces/Lines';
import { Failed, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { SchedulePart } from './SchedulePart';
import ui from '../pieces/ui.module.css';

/** Where the site stood over time: for a keyword, a cluster or a page. */
export function RankPane({ id, list, host }: { id: string; list: ListState; host: string | undefined }) {
  const [kind, of] = [id[0], Number(id.slice(1))];
  const about = kind === 'k' ? { keywordId: of } : kind === 'c' ? { clusterId: of } : { pageId: of };
  const days = { from: list.text('from'), to: list.text('to') };
  const history = useQuery({
    queryKey: keyOf('rank history', id, days.from, days.to),
    queryFn: () => answer(api.GET('/api/ranks/history', { params: { query: { ...about, ...days } } })),
  });
  if (history.isError) return <Failed error={history.error} retry={() => void history.refetch()} />;
  if (!history.data) return <Reading />;
  const { name, captured, counted, arrived, left } = history.data;
  const standing = captured.filter((p) => p.position > 0);
  return (
    <>
      <h2 className={ui.wrap}>{kind === 'p' ? shortUrl(name, host) : `“${name}”`}</h2>
      <div className={ui.acts}>
        {kind === 'k' && <Link to={`/results?id=${of}`}>Its result lists</Link>}
        {kind === 'c' && <Link to={`/clusters?id=${of}`}>The cluster</Link>}
        {kind === 'c' && <Link to={`/refresh?view=ranks&cluster=${of}`}>Its keywords</Link>}
        {kind === 'p' && <Link to={`/refresh?id=${of}`}>The page</Link>}
        {kind === 'p' && <Link to={`/refresh?view=ranks&page=${of}`}>Its keywords</Link>}
      </div>
      {standing.length + counted.length === 0 ? (
        <p>The site is in none of its result lists and had no impressions for it.</p>
      ) : (
        <Lines
          title={`Position over time${kind === 'k' ? '' : ', the mean of its keywords'}; solid: captured lists, dashed: search performance, by week`}
          upsideDown
          series={[
            { name: 'captured', points: standing.map((p) => ({ day: p.day, value: p.position })), joins: true },
            { name: 'counted', points: counted.map((p) => ({ day: p.day, value: p.position })) },
          ]}
        />
      )}
      {captured.some((p) => p.position === 0) && standing.length > 0 && (
        <p className={ui.quiet}>No point: the site was not in the results that day.</p>
      )}
      {kind === 'k' && (
        <>
          <Turned title="Arrived among the first ten" urls={arrived} host={host} />
          <Turned title="Left the first ten" urls={left} host={host} />
        </>
      )}
    </>
  );
}

function Turned({ title, urls, host }: { title: string; urls: Schema['RankedUrl'][]; host: string | undefined }) {
  return (
    <>
      <h3>{title}</h3>
      {urls.length === 0 && <p className={ui.quiet}>None.</p>}
      <table className={ui.facts}>
        <tbody>
          {urls.map((u) => (
            <tr key={u.url}>
              <td className={ui.num}>{u.position}</td>
              <td className={ui.wrap}>
                {u.isOwn ? <b>{shortUrl(u.url, host)}</b> : shortUrl(u.url, host)}
                <div className={ui.second}>{u.title}</div>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** What the view is for, and the schedule of captures. */
export const RanksPane = () => (
  <>
    <h2>Positions over time</h2>
    <p>
      Two days are compared: the newest captured list of each keyword on or before each of them, and the average
      position in search performance over the week before. A row opens its line over time, and the pages that arrived or
      left.
    </p>
    <hr />
    <SchedulePart />
  </>
);
