import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { counted, number, percent } from '../pieces/format';
import { PlotMark, type Mark } from '../pieces/PlotMark';
import styles from './pagemap.module.css';
import ui from '../pieces/ui.module.css';

const order: Mark[] = ['covered', 'planned', 'contested', 'uncovered', 'declined'];

/** How far the mapping has come, by demand. */
export function Progress() {
  const progress = useQuery({
    queryKey: keyOf('mapping progress'),
    queryFn: () => answer(api.GET('/api/page-map/progress')),
  });
  const rows = progress.data ?? [];
  const all = rows.reduce((sum, r) => sum + r.demand, 0);
  if (all === 0) return null;
  const shown = order.flatMap((mark) => rows.filter((r) => r.coverage === mark));
  return (
    <div className={styles.progress} role="group" aria-label="Progress">
      <div className={styles.strip} aria-hidden>
        {shown.map((r) => (
          <span key={r.coverage} className={styles[r.coverage]} style={{ flexGrow: r.demand }} />
        ))}
      </div>
      <div className={ui.second}>
        Demand:{' '}
        {shown.map((r, i) => (
          <span key={r.coverage} title={`${counted(r.clusters, 'cluster')}, demand ${number(r.demand)} a month`}>
            {i > 0 && ', '}
            <PlotMark mark={r.coverage} /> {r.coverage} {percent(r.demand / all)}
          </span>
        ))}
      </div>
    </div>
  );
}
