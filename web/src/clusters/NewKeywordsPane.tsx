import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, number } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

/** Captured keywords that are in no cluster. */
export const useNewKeywords = () =>
  useQuery({
    queryKey: keyOf('clusters', 'newKeywords'),
    queryFn: () => answer(api.GET('/api/clusters/new-keywords')),
  });

/** New keywords: which clusters would take them in, and which are left for review. */
export function NewKeywordsPane({ close }: { close: () => void }) {
  const newKeywords = useNewKeywords();
  const place = useChange(
    (keywordIds: number[] | null) => answer(api.POST('/api/clusters/place', { body: { keywordIds } })),
    (done) => `${counted(done.placed, 'keyword')} placed.`,
  );
  if (newKeywords.isError) return <Failed error={newKeywords.error} retry={() => void newKeywords.refetch()} />;
  if (!newKeywords.data) return <Reading />;
  const { placed, placedDemand, left, leftDemand, minOverlap, rows } = newKeywords.data;
  return (
    <>
      <h2>Keywords without a cluster</h2>
      {placed + left === 0 ? (
        <p>Every captured keyword is in a cluster or declined.</p>
      ) : (
        <p>
          {placed > 0 && (
            <>
              {counted(placed, 'keyword')}, demand {number(placedDemand)}, {placed === 1 ? 'overlaps' : 'overlap'} the
              primary of a cluster by {minOverlap} or more and can go there; no cluster changes but by what comes
              in.{' '}
            </>
          )}
          {left > 0 && (
            <>
              {counted(left, 'keyword')}, demand {number(leftDemand)}, {left === 1 ? 'fits' : 'fit'} none, or a locked
              one, and {left === 1 ? 'is' : 'are'} left for review: regroup, or move them yourself.
            </>
          )}
        </p>
      )}
      <div className={ui.acts}>
        <Button type="primary" disabled={placed === 0} loading={place.isPending} onClick={() => place.mutate(null)}>
          Place {number(placed)}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      {rows.length > 0 && (
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>Keyword</th>
              <th className={ui.num}>Volume</th>
              <th>Would go to</th>
              <th className={ui.num} title="Results shared with its primary">
                Shared
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.keywordId}>
                <td>
                  <Link to={`/keywords?id=${row.keywordId}`}>{row.phrase}</Link>
                </td>
                <td className={ui.num}>{number(row.volume)}</td>
                <td>
                  {row.clusterId ? (
                    <>
                      <Link to={`/clusters?id=${row.clusterId}`}>{row.clusterName}</Link>{' '}
                      {row.isOffered && <span className={ui.quiet}>locked, only if you say so </span>}
                      <button className={ui.chip} onClick={() => place.mutate([row.keywordId])}>
                        place
                      </button>
                    </>
                  ) : (
                    <span className={ui.quiet}>none</span>
                  )}
                </td>
                <td className={ui.num}>{row.overlap}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length < placed + left && (
        <p className={ui.quiet}>
          {number(rows.length)} of {number(placed + left)} are shown.
        </p>
      )}
    </>
  );
}
