import type { Schema } from '../api/client';
import { percent } from '../pieces/format';
import styles from './topics.module.css';

/** How much of the demand is covered, planned, contested; what is left empty is uncovered. */
export function Coverage({ topic }: { topic: Schema['TopicRow'] }) {
  const parts = [
    ['covered', topic.coveredDemand],
    ['planned', topic.plannedDemand],
    ['contested', topic.contestedDemand],
  ] as const;
  const all = Math.max(1, topic.demand);
  const says = [
    ...parts,
    ['uncovered', topic.demand - parts.reduce((sum, [, demand]) => sum + demand, 0)] as const,
  ].map(([mark, demand]) => `${mark} ${percent(demand / all)}`);
  return (
    <span className={styles.coverage} role="img" aria-label={says.join(', ')} title={says.join(', ')}>
      {parts.map(([mark, demand]) => (
        <span key={mark} className={styles[mark]} style={{ width: `${(demand / all) * 100}%` }} />
      ))}
    </span>
  );
}
