import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

const shown = 200;

/** What accepting the clear pages would do, before it is done. */
export function ClearPane({ host, close }: { host: string | undefined; close: () => void }) {
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const clear = useQuery({
    queryKey: keyOf('clear suggestions'),
    queryFn: () => answer(api.GET('/api/page-map/clear')),
  });
  const wanted = (clear.data ?? []).filter((s) => !without.has(s.clusterId));
  const accept = useChange(
    () => answer(api.POST('/api/page-map/accept-clear', { body: { clusterIds: wanted.map((s) => s.clusterId) } })),
    (result) => {
      close();
      return `${counted(result.clusters, 'cluster')} got a page. One undo takes all of them back.`;
    },
  );
  if (clear.isError) return <Failed error={clear.error} retry={() => void clear.refetch()} />;
  if (!clear.data) return <Reading />;
  const demand = wanted.reduce((sum, s) => sum + s.demand, 0);
  const toggle = (id: number) => {
    const next = new Set(without);
    if (!next.delete(id)) next.add(id);
    setWithout(next);
  };
  return (
    <>
      <h2>Clear pages, before they are accepted</h2>
      <p>
        Each of these clusters has one page that fits well and is ahead of the next, and that no other cluster has. Take
        out what you do not want.
      </p>
      <div className={ui.acts}>
        <Button
          type="primary"
          disabled={wanted.length === 0}
          loading={accept.isPending}
          onClick={() => accept.mutate(undefined)}
        >
          Accept {number(wanted.length)}, demand {number(demand)}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Cluster and page</th>
            <th className={ui.num}>Demand</th>
            <th className={ui.num}>Strength</th>
          </tr>
        </thead>
        <tbody>
          {clear.data.slice(0, shown).map((s) => (
            <tr key={s.clusterId}>
              <td>
                <Checkbox checked={!without.has(s.clusterId)} onChange={() => toggle(s.clusterId)}>
                  {s.cluster}
                  <div className={`${ui.second} ${ui.wrap}`}>{shortUrl(s.url, host)}</div>
                </Checkbox>
              </td>
              <td className={ui.num}>{number(s.demand)}</td>
              <td className={ui.num}>{decimal(s.strength, 0)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {clear.data.length > shown && <p className={ui.quiet}>and {number(clear.data.length - shown)} more, all taken</p>}
    </>
  );
}
