import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { number, sentenceCase, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import type { FindingQuery } from './useFindings';
import tableStyles from '../pieces/table.module.css';
import styles from './findings.module.css';
import ui from '../pieces/ui.module.css';

export type By = Schema['FindingsBy'];

/** Findings gathered by what they have in common, most at stake first. */
export function Bundles({
  by,
  query,
  host,
  open,
}: {
  by: By;
  query: FindingQuery;
  host: string | undefined;
  open: (key: string) => void;
}) {
  const { Kind, Sign, State, AnyState, PageId, TopicId, Assignee } = query;
  const filter = { Kind, Sign, State, AnyState, PageId, TopicId, Assignee };
  const bundles = useQuery({
    queryKey: keyOf('bundles', by, filter),
    queryFn: () => answer(api.GET('/api/findings/bundles', { params: { query: { by, ...filter } } })),
  });
  if (bundles.isError) return <Failed error={bundles.error} retry={() => void bundles.refetch()} />;
  if (!bundles.data) return <Reading />;
  if (bundles.data.length === 0) return <NotYet title="No finding fits">Remove a condition above.</NotYet>;
  const most = Math.max(1, ...bundles.data.map((b) => b.atStake));
  const name = (b: Schema['FindingBundle']) =>
    by === 'page' ? (b.name ? shortUrl(b.name, host) : 'about no page') : b.name || 'about no topic';
  return (
    <div
      className={`${tableStyles.grid} ${styles.bundles}`}
      tabIndex={0}
      role="region"
      aria-label={`Findings by ${by}`}
    >
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>{sentenceCase(by)}</th>
            <th className={ui.num}>Findings</th>
            <th className={ui.num}>Open</th>
            <th className={ui.num}>At stake</th>
            <th aria-label="At stake, as a bar" />
          </tr>
        </thead>
        <tbody>
          {bundles.data.map((b) => (
            <tr key={b.key}>
              <td>
                {b.key ? (
                  <button className={ui.chip} onClick={() => open(b.key)}>
                    {name(b)}
                  </button>
                ) : (
                  <span className={ui.quiet}>{name(b)}</span>
                )}
              </td>
              <td className={ui.num}>{number(b.count)}</td>
              <td className={ui.num}>{number(b.open)}</td>
              <td className={ui.num}>
                <b>{number(b.atStake)}</b>
              </td>
              <td className={ui.third}>
                <span className={`${ui.bar} ${styles.share}`} style={{ width: `${(100 * b.atStake) / most}%` }} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
