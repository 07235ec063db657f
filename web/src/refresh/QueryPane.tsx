import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { queryEvidence } from '../api/evidence';
import { decimal, number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { QueryActions } from './QueryActions';
import { marksOf, mentionsOf, rate } from './says';
import { SpanTable, type SpanRow } from './SpanTable';
import { periodOf } from './useRefresh';
import ui from '../pieces/ui.module.css';

/** One query on one page: what it gets, what it should, where the page has it, and what can be done. */
export function QueryPane({
  pageId,
  queryId,
  list,
  host,
}: {
  pageId: number;
  queryId: number;
  list: ListState;
  host: string | undefined;
}) {
  const period = periodOf(list);
  const detail = useQuery(queryEvidence(pageId, queryId, period));
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { query, closest, elsewhere, rivals, ownTitle } = detail.data;
  const isIgnored = query.marks.includes('irrelevant');
  return (
    <>
      <h2 className={ui.wrap}>{query.query}</h2>
      <p>
        on <Link to={`/refresh?id=${pageId}`}>{shortUrl(query.url, host)}</Link>
        {query.marks.length > 0 && (
          <>
            <br />
            <b>{marksOf(query.marks)}</b>
          </>
        )}
      </p>
      <div className={ui.acts}>
        <QueryActions items={[{ pageId, queryId }]} period={period} isIrrelevant={isIgnored} />
      </div>
      <SpanTable
        now={query.now}
        before={query.before}
        more={[
          ['Rate that its position earns', rate(query.expectedRate)],
          ...(query.volume === null ? [] : [['Searches a month, estimated', number(query.volume)] as SpanRow]),
        ]}
      />
      <h3>On the page</h3>
      <p>
        Mentioned: {mentionsOf(query.mentions, query.places)}.
        {query.mentions === 0 &&
          (closest ? (
            <>
              {' '}
              The passage that comes closest: <span className={ui.second}>“{closest}”</span>
            </>
          ) : (
            ' No passage comes close; give it a heading of its own.'
          ))}
      </p>
      {query.clusterId !== null && (
        <>
          <h3>Cluster</h3>
          <p>
            <Link to={`/clusters?id=${query.clusterId}`}>{query.clusterName}</Link>:{' '}
            {query.isHome ? (
              'this is its page.'
            ) : query.homeUrl ? (
              <span className={ui.clay}>its page is {shortUrl(query.homeUrl, host)}.</span>
            ) : (
              'it has no page yet.'
            )}
          </p>
        </>
      )}
      {elsewhere.length > 0 && (
        <>
          <h3>Other own pages shown for it</h3>
          {elsewhere.map((q) => (
            <p key={q.id}>
              <Link to={`/refresh?id=${q.pageId}`}>{shortUrl(q.url, host)}</Link>: {number(q.now.clicks)} clicks,
              position {decimal(q.now.position, 1)}
            </p>
          ))}
        </>
      )}
      {rivals.length > 0 && (
        <>
          <h3>Titles that rank</h3>
          <table className={ui.facts}>
            <tbody>
              <tr>
                <td className={ui.num}>{decimal(query.now.position, 1)}</td>
                <td>
                  <b>{ownTitle ?? 'no title'}</b> <span className={ui.second}>ours</span>
                </td>
              </tr>
              {rivals.map((r) => (
                <tr key={r.position}>
                  <td className={ui.num}>{r.position}</td>
                  <td>
                    {r.title ?? 'title not captured'}
                    <div className={`${ui.second} ${ui.wrap}`}>{shortUrl(r.url, undefined)}</div>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </>
  );
}
