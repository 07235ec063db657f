import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { useProject } from '../api/hooks';
import { day, decimal, number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';

/** A keyword with what is known of it and its newest result list. */
export function ResultListPane({ keywordId }: { keywordId: number }) {
  const host = useProject().data?.project.host;
  const view = useQuery({
    queryKey: ['result-list', keywordId],
    queryFn: () => answer(api.GET('/api/keywords/{id}/results', { params: { path: { id: keywordId } } })),
  });
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { keyword, results } = view.data;
  const own = results.filter((r) => r.pageId !== null);
  return (
    <>
      <h2>“{keyword.phrase}”</h2>
      <p>
        {keyword.volume === null ? 'Its volume is not known' : `${number(keyword.volume)} searches a month, estimated`}
        {keyword.difficulty !== null && `, difficulty ${decimal(keyword.difficulty, 0)}`}
        {keyword.intent && `, ${keyword.intent} intent`}.{' '}
        {keyword.clusterId ? (
          <>
            In the cluster <Link to={`/clusters?id=${keyword.clusterId}`}>{keyword.clusterName}</Link>.
          </>
        ) : (
          'In no cluster.'
        )}
      </p>
      <hr />
      <h2>Results{keyword.capturedOn && ` of ${day(keyword.capturedOn)}`}</h2>
      {results.length === 0 ? (
        <p>
          Not captured yet. Without a result list a keyword cannot be grouped.{' '}
          <Link to="/results">Import result lists</Link>
        </p>
      ) : (
        <>
          <p>
            {own.length === 0
              ? 'No page of the site is among them.'
              : own.length === 1
                ? `One page of the site is among them, at position ${own[0]!.position}.`
                : `${own.length} pages of the site are among them, at positions ${own.map((r) => r.position).join(', ')}.`}
          </p>
          <table className="facts">
            <tbody>
              {results.map((r) => (
                <tr key={r.url} style={r.pageId !== null ? { boxShadow: 'inset 3px 0 var(--clay)' } : undefined}>
                  <td className="num" style={{ paddingLeft: 8 }}>
                    {r.position}
                  </td>
                  <td>
                    <div>{r.title ?? <span className="quiet">no title captured</span>}</div>
                    <div className="second" style={{ wordBreak: 'break-all' }}>
                      {r.pageId !== null ? (
                        <Link to={`/site?id=${r.pageId}`}>
                          <b>{shortUrl(r.url, host)}</b>
                        </Link>
                      ) : (
                        shortUrl(r.url, undefined)
                      )}
                    </div>
                    {r.snippet && <div className="quiet">{r.snippet}</div>}
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
