import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api, ApiError, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { decimal, number } from '../pieces/format';
import styles from './clusters.module.css';
import ui from '../pieces/ui.module.css';

type Rule = Schema['LinkingRule'];
type Parts = Schema['PartsView'];

/** How to group, as the pane of grouping has it. */
export interface Grouping {
  depth: number;
  minOverlap: number;
  rule: Rule;
  smallest: number;
  leftOutHosts: string;
  listId: number | null;
  /** Results of one host that count in a list; 0 for all. */
  perHost: number;
  shortLists: boolean;
  /** Results by which another cluster must be ahead to take a keyword. */
  hysteresis: number;
}

/** What a grouping would make of the keywords, read ahead of it. */
const useGroupingPreview = (grouping: Grouping) =>
  useQuery({
    queryKey: keyOf('groupingPreview', grouping),
    queryFn: () =>
      answer(
        api.GET('/api/clusters/preview', {
          params: {
            query: {
              Depth: grouping.depth,
              MinOverlap: grouping.minOverlap,
              Rule: grouping.rule,
              Smallest: grouping.smallest,
              LeftOutHosts: grouping.leftOutHosts,
              PerHost: grouping.perHost,
              ShortLists: grouping.shortLists,
              Hysteresis: grouping.hysteresis,
              ...(grouping.listId === null ? {} : { ListId: grouping.listId }),
            },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    // With many keywords parts of it come in a little later.
    refetchInterval: ({ state }) => (state.data && !state.data.isComplete ? 400 : false),
  });

const percent = (share: number) => `${decimal(share * 100, 0)} %`;

const partsText = (parts: Parts) =>
  parts.parts.map((part) => `${part.name} (${number(part.keywords)})`).join(', ') +
  (parts.more > 0 ? ` and ${number(parts.more)} more` : '');

/** Clusters and the parts that they fall into, or come from. */
const PartsList = ({ all, joined }: { all: readonly Parts[]; joined: string }) => (
  <ul className={styles.parts}>
    {all.map((parts) => (
      <li key={parts.name}>
        <b>{parts.name}</b> <span className={ui.second}>{joined}</span> {partsText(parts)}
      </li>
    ))}
  </ul>
);

/** For each minimum overlap how much of the keywords would be in clusters; a row chooses its minimum. */
function Minimums({
  rows,
  chosen,
  captured,
  choose,
}: {
  rows: readonly Schema['SensitivityRow'][];
  chosen: number;
  captured: number;
  choose: (minOverlap: number) => void;
}) {
  return (
    <table className={styles.minimums}>
      <caption>What each minimum overlap would give; in clusters means of two keywords or more</caption>
      <thead>
        <tr>
          <th scope="col">Min.</th>
          <th scope="col">In clusters</th>
          <th scope="col" className={ui.num}>
            Clusters
          </th>
          <th scope="col" className={ui.num}>
            Largest
          </th>
          <th scope="col" className={ui.num}>
            Cohesion
          </th>
          <th scope="col" className={ui.num}>
            Demand
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={row.minOverlap}
            aria-current={row.minOverlap === chosen || undefined}
            className={row.minOverlap === chosen ? styles.sel : undefined}
          >
            <th scope="row">
              <button
                type="button"
                aria-pressed={row.minOverlap === chosen}
                aria-label={`Minimum overlap ${row.minOverlap}`}
                onClick={() => choose(row.minOverlap)}
              >
                {row.minOverlap}
                {row.minOverlap === chosen ? ' ◂' : ''}
              </button>
            </th>
            <td title={`${number(row.singletons)} of ${number(captured)} keywords would stand alone`}>
              <span className={styles.share}>
                <span style={{ width: `${(1 - row.singletonShare) * 100}%` }} />
              </span>
              {percent(1 - row.singletonShare)}
            </td>
            <td className={ui.num}>{number(row.clusters - row.singletons)}</td>
            <td className={ui.num}>{number(row.largest)}</td>
            <td className={ui.num}>{decimal(row.cohesion, 2)}</td>
            <td className={ui.num}>{number(row.demandInClusters)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The change report: what becomes of the clusters as they are. */
function Changes({ changes }: { changes: Schema['ChangesView'] }) {
  const nothing = changes.changed + changes.new + changes.gone === 0;
  return (
    <section aria-label="Change report">
      <h3>What would change</h3>
      {nothing ? (
        <p>No change from the current clusters.</p>
      ) : (
        <p>
          <b>{number(changes.kept)}</b> clusters stay as they are, <b>{number(changes.changed)}</b> go on with other
          keywords, <b>{number(changes.new)}</b> are new and <b>{number(changes.gone)}</b> go
          {changes.goneWithPage > 0 && (
            <span className={ui.clay}> ({number(changes.goneWithPage)} of them have a page, which becomes free)</span>
          )}
          . {number(changes.moved)} keywords move.{' '}
          {changes.heldBack > 0 && (
            <>
              {number(changes.heldBack)} stay though their results moved a little: they would have to share more with
              another cluster than that.{' '}
            </>
          )}{' '}
          Agreement with the grouping as it stands: {decimal(changes.adjustedRandIndex, 2)} (adjusted Rand index, 1 is
          the same).
        </p>
      )}
      {changes.splitCount > 0 && (
        <details>
          <summary>{number(changes.splitCount)} split</summary>
          <PartsList all={changes.splits} joined="into" />
          {changes.splitCount > changes.splits.length && (
            <p className={ui.quiet}>The {number(changes.splits.length)} of most demand are listed.</p>
          )}
        </details>
      )}
      {changes.mergeCount > 0 && (
        <details>
          <summary>{number(changes.mergeCount)} come together</summary>
          <PartsList all={changes.merges} joined="from" />
          {changes.mergeCount > changes.merges.length && (
            <p className={ui.quiet}>The {number(changes.merges.length)} of most demand are listed.</p>
          )}
        </details>
      )}
    </section>
  );
}

/** Advice, what each minimum would give, samples of what one more or less would do, and the change report. */
export function GroupingPreviewView({
  grouping,
  choose,
}: {
  grouping: Grouping;
  choose: (minOverlap: number) => void;
}) {
  const { minOverlap } = grouping;
  const { data, error, isPlaceholderData } = useGroupingPreview(grouping);
  if (error)
    return <p className={ui.clay}>{error instanceof ApiError ? error.message : 'Couldn’t load the preview.'}</p>;
  if (!data)
    return (
      <p role="status" className={ui.quiet}>
        Comparing result lists…
      </p>
    );
  if (data.captured === 0)
    return <p>No keyword has a result list yet. Capture or import result lists first; then the choice shows here.</p>;
  return (
    <div
      className={isPlaceholderData ? `${styles.preview} ${styles.waits}` : styles.preview}
      aria-busy={isPlaceholderData}
    >
      {data.advice.length > 0 && (
        <ul className={styles.advice} aria-label="Advice">
          {data.advice.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      )}
      <Minimums rows={data.rows} chosen={minOverlap} captured={data.captured} choose={choose} />
      {!data.isComplete && (
        <p role="status" className={ui.quiet}>
          Computing the rest…
        </p>
      )}
      {data.tighter.length > 0 && (
        <>
          <h3>At {minOverlap + 1} these would part</h3>
          <PartsList all={data.tighter} joined="into" />
        </>
      )}
      {data.looser.length > 0 && (
        <>
          <h3>At {minOverlap - 1} these would come together</h3>
          <PartsList all={data.looser} joined="from" />
        </>
      )}
      {data.changes && <Changes changes={data.changes} />}
    </div>
  );
}
