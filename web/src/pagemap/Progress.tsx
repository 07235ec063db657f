import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { counted, number, percent } from '../pieces/format';

type Part = Schema['CoveragePart'];

const parts: { part: Part; mark: string; says: string }[] = [
  { part: 'covered', mark: '■', says: 'mapped' },
  { part: 'planned', mark: '▣', says: 'planned' },
  { part: 'contested', mark: '◩', says: 'contested' },
  { part: 'open', mark: '□', says: 'open' },
  { part: 'declined', mark: '–', says: 'declined' },
];

/** How far the mapping has come, by demand. */
export function Progress() {
  const progress = useQuery({
    queryKey: ['mapping progress'],
    queryFn: () => answer(api.GET('/api/page-map/progress')),
  });
  const rows = progress.data ?? [];
  const all = rows.reduce((sum, r) => sum + r.demand, 0);
  if (all === 0) return null;
  const shown = parts.map((p) => ({ ...p, row: rows.find((r) => r.part === p.part) })).filter((p) => p.row);
  return (
    <div className="progress">
      <div className="strip" aria-hidden>
        {shown.map((p) => (
          <span key={p.part} className={p.part} style={{ flexGrow: p.row!.demand }} />
        ))}
      </div>
      <div className="second">
        Demand:{' '}
        {shown.map((p, i) => (
          <span key={p.part} title={`${counted(p.row!.clusters, 'cluster')}, demand ${number(p.row!.demand)} a month`}>
            {i > 0 && ', '}
            <span className="mark">{p.mark}</span> {p.says} {percent(p.row!.demand / all)}
          </span>
        ))}
      </div>
    </div>
  );
}
