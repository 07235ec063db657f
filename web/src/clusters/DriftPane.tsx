import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { counted, day } from '../pieces/format';
import ui from '../pieces/ui.module.css';

export const useDrift = () =>
  useQuery({ queryKey: keyOf('drift'), queryFn: () => answer(api.GET('/api/clusters/drift')) });

/** Ids of clusters that drifted, to mark them in the table. */
export const driftedIds = (drift: Schema['DriftsView'] | undefined) =>
  new Set([...(drift?.apart ?? []), ...(drift?.together ?? [])].flatMap((d) => [d.clusterId, d.otherId]));

/** Clusters whose results are others than when they were grouped, and what regrouping would change. */
export function DriftPane({ regroup, close }: { regroup: () => void; close: () => void }) {
  const drift = useDrift().data;
  if (!drift) return null;
  return (
    <>
      <h2>Drifted since the grouping</h2>
      <p>
        {counted(drift.recaptured, 'keyword')} captured again since {day(drift.groupedOn)}. Flagged is what changed more
        than results change anyway.
      </p>
      <div className={ui.acts}>
        <Button type="primary" onClick={regroup}>
          See what regrouping changes
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      <Part title="Drifted apart" drifts={drift.apart} />
      <Part title="Drifted together" drifts={drift.together} />
    </>
  );
}

function Part({ title, drifts }: { title: string; drifts: Schema['DriftView'][] }) {
  return (
    <>
      <h3>{title}</h3>
      {drifts.length === 0 && <p className={ui.quiet}>None beyond noise.</p>}
      {drifts.map((d) => (
        <section key={`${d.clusterId} ${d.otherId}`}>
          <p>
            <Link to={`/clusters?id=${d.clusterId}`}>{d.cluster}</Link>
            {d.otherId && (
              <>
                {' '}
                and <Link to={`/clusters?id=${d.otherId}`}>{d.other}</Link>
              </>
            )}
            <br />
            {d.says}
          </p>
          <table className={ui.facts}>
            <thead>
              <tr>
                <th>Keyword</th>
                <th className={ui.num}>Shared then</th>
                <th className={ui.num}>Now</th>
              </tr>
            </thead>
            <tbody>
              {d.keywords.map((k) => (
                <tr key={k.id}>
                  <td>
                    <Link to={`/results?id=${k.id}`}>{k.phrase}</Link>
                  </td>
                  <td className={ui.num}>{k.then}</td>
                  <td className={ui.num}>{k.now}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
    </>
  );
}
