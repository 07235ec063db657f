import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import { answer, api, type Schema } from '../api/client';
import { findingEvidence } from '../api/evidence';
import { keyOf } from '../api/keys';
import { counted, number } from '../pieces/format';
import { usePrefetch } from '../pieces/usePrefetch';
import { Failed, Reading } from '../pieces/States';
import { isConflict, stateOf, type Finding, type Kind } from './says';
import type { FindingQuery } from './useFindings';
import styles from './findings.module.css';
import ui from '../pieces/ui.module.css';

type Summary = Schema['FindingKindSummary'];

/** What a kind of finding comes to, beside its heading. */
const comesTo = (s: Summary) => {
  const clicks = number(s.atStake);
  switch (s.kind) {
    case 'uncovered':
      return `${clicks} clicks a month to gain, demand ${number(s.demand)}`;
    case 'pageGap':
      return `${clicks} clicks a month to gain`;
    case 'twins':
      return `${counted(s.pages, 'page')}`;
    case 'missingLinks':
      return `${counted(s.count, 'topic')}, ${counted(s.pages, 'page')}`;
    case 'idlePages':
      return `${counted(s.count, 'folder')}, ${counted(s.pages, 'page')}`;
    default:
      return `${clicks} clicks a month at stake`;
  }
};

/** The six kinds with their counts and first few rows; small findings in one line for each kind. */
export function ByKind({
  query,
  selected,
  onSelect,
  onKey,
  showAll,
  empty,
}: {
  query: FindingQuery;
  selected: string | undefined;
  onSelect: (finding: Finding) => void;
  onKey: (key: string, finding: Finding | undefined) => boolean;
  showAll: (kind: Kind, small: boolean) => void;
  empty: React.ReactNode;
}) {
  const { Search, Sign, State, AnyState, PageId, TopicId, Assignee } = query;
  const filter = { Search, Sign, State, AnyState, PageId, TopicId, Assignee };
  const kinds = useQuery({
    queryKey: keyOf('findings-by-kind', filter),
    queryFn: () => answer(api.GET('/api/findings/by-kind', { params: { query: filter } })),
  });
  const list = useRef<HTMLDivElement>(null);
  const rows = kinds.data?.flatMap((k) => k.first) ?? [];
  const at = rows.findIndex((r) => r.key === selected);
  useEffect(() => {
    list.current?.querySelector('.sel')?.scrollIntoView({ block: 'nearest' });
  }, [selected]);
  usePrefetch([at + 1, at + 2, at - 1].flatMap((i) => (rows[i] ? [findingEvidence(rows[i].key)] : [])));
  if (kinds.isError) return <Failed error={kinds.error} retry={() => void kinds.refetch()} />;
  if (!kinds.data) return <Reading />;
  if (kinds.data.length === 0) return <>{empty}</>;
  const move = (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, Home: -rows.length, End: rows.length };
    const step = steps[event.key];
    if (step !== undefined && rows.length > 0) {
      onSelect(rows[Math.min(rows.length - 1, Math.max(0, at + step))]!);
      event.preventDefault();
    } else if (!event.ctrlKey && !event.metaKey && !event.altKey && onKey(event.key, rows[at])) event.preventDefault();
  };
  return (
    <div
      className={styles.kinds}
      ref={list}
      data-list
      tabIndex={0}
      role="region"
      aria-label="Findings by kind"
      onKeyDown={move}
    >
      {kinds.data.map((k) => (
        <section key={k.kind}>
          <div className={styles.kind}>
            <h2 className={k.kind === 'conflict' ? ui.clay : undefined}>{k.heading}</h2>
            <b>{number(k.count)}</b>
            <span className={`${ui.second} ${ui.cut}`}>{comesTo(k)}</span>
            <span className={ui.gap} />
            <button className={ui.link} onClick={() => showAll(k.kind, false)}>
              show all
            </button>
          </div>
          {k.first.map((f) => (
            <button
              key={f.key}
              tabIndex={-1}
              className={f.key === selected ? `${styles.finding} ${styles.sel}` : styles.finding}
              aria-pressed={f.key === selected}
              onClick={() => {
                onSelect(f);
                list.current?.focus();
              }}
            >
              <span className={ui.cut} title={f.subject}>
                {f.subject}
              </span>
              <span className={`${ui.second} ${ui.cut}`} title={f.says}>
                {isConflict(f) && f.clusterName ? `${f.clusterName} · ${f.says}` : f.says}
              </span>
              <b className={ui.num}>{number(f.atStake)}</b>
              <span className={ui.cut} title={stateOf(f)}>
                {stateOf(f)}
              </span>
            </button>
          ))}
          {k.first.length > 0 && k.smallCount > 0 && (
            <div className={styles.small}>
              <span className={ui.quiet}>
                Small ones: {counted(k.smallCount, 'finding')}
                {k.smallAtStake >= 0.5 && `, ${number(k.smallAtStake)} clicks a month together`}
              </span>
              <span className={ui.gap} />
              <button className={`${ui.link} ${ui.quiet}`} onClick={() => showAll(k.kind, true)}>
                show
              </button>
            </div>
          )}
        </section>
      ))}
    </div>
  );
}
