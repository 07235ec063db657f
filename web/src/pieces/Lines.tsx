import { useState } from 'react';
import { day as dayOf, decimal, number } from './format';
import ui from './ui.module.css';
import styles from './charts.module.css';

/** A line of a picture. */
export interface Series {
  name: string;
  points: { day: string; value: number | null }[];
  /** Points far apart are joined all the same: captures are rare. */
  joins?: boolean;
}

const width = 430;
const height = 150;
const left = 34;
const bottom = 22;

/** Values over time, a line for each series, told apart by dashes as well as by colour. */
export function Lines({
  title,
  series,
  upsideDown,
  events = [],
}: {
  title: string;
  series: Series[];
  upsideDown?: boolean;
  /** What happened on some days: upright lines, with what it was for who points at them. */
  events?: readonly { day: string; says: string }[];
}) {
  const points = series.flatMap((s) => s.points).filter((p) => p.value !== null);
  if (points.length === 0) return null;
  const days = points.map((p) => Date.parse(p.day));
  const [first, last] = [Math.min(...days), Math.max(...days)];
  const values = points.map((p) => p.value!);
  const top = Math.max(...values);
  const [low, high] = upsideDown ? [1, Math.max(2, Math.ceil(top))] : [0, Math.max(1, Math.ceil(top))];
  const x = (day: string) =>
    left + (first === last ? 0.5 : (Date.parse(day) - first) / (last - first)) * (width - left - 10);
  const y = (value: number) => {
    const part = (value - low) / (high - low);
    return 8 + (upsideDown ? part : 1 - part) * (height - bottom - 8);
  };
  // Weeks in which a page was not shown break its line.
  const runs = (s: Series) => {
    const found: { day: string; value: number }[][] = [];
    let before: number | undefined;
    for (const point of s.points) {
      if (point.value === null) continue;
      const at = Date.parse(point.day);
      if (before === undefined || (!s.joins && at - before > 8 * 86_400_000)) found.push([]);
      found.at(-1)!.push({ day: point.day, value: point.value });
      before = at;
    }
    return found;
  };
  return (
    <figure className={styles.picture}>
      <figcaption>{title}</figcaption>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`${title}, ${series.map((s) => s.name).join(' and ')}`}
      >
        {[low, (low + high) / 2, high].map((v) => (
          <g key={v}>
            <line x1={left} x2={width - 10} y1={y(v)} y2={y(v)} className={styles.rule} />
            <text x={left - 4} y={y(v) + 4} textAnchor="end">
              {Number.isInteger(v) ? number(v) : decimal(v, 1)}
            </text>
          </g>
        ))}
        {events
          .filter((e) => Date.parse(e.day) >= first && Date.parse(e.day) <= last)
          .map((e) => (
            <g key={e.day + e.says} className={styles.event}>
              <title>{`${dayOf(e.day)}: ${e.says}`}</title>
              <line x1={x(e.day)} x2={x(e.day)} y1={4} y2={height - bottom} />
              <path d={`M${x(e.day) - 4},2 h8 l-4,6 z`} />
            </g>
          ))}
        <text x={left} y={height - 5}>
          {dayOf(new Date(first).toISOString())}
        </text>
        <text x={width - 10} y={height - 5} textAnchor="end">
          {dayOf(new Date(last).toISOString())}
        </text>
        {series.map((s, i) =>
          runs(s).map((run, r) =>
            run.length === 1 ? (
              <circle
                key={`${i} ${r}`}
                cx={x(run[0]!.day)}
                cy={y(run[0]!.value)}
                r={2}
                className={`${styles.dot} ${styles[`s${i}`]}`}
              />
            ) : (
              <polyline
                key={`${i} ${r}`}
                className={`${styles.line} ${styles[`s${i}`]}`}
                points={run.map((p) => `${x(p.day)},${y(p.value)}`).join(' ')}
              />
            ),
          ),
        )}
      </svg>
      <Numbers series={series} />
    </figure>
  );
}

/** The numbers of the lines, for those who do not see them, or want them. */
function Numbers({ series }: { series: Series[] }) {
  const [isOpen, setOpen] = useState(false);
  const days = [...new Set(series.flatMap((s) => s.points.map((p) => p.day)))].sort();
  const of = series.map((s) => new Map(s.points.map((p) => [p.day, p.value])));
  const says = (value: number | null | undefined) =>
    value === null || value === undefined ? '–' : Number.isInteger(value) ? number(value) : decimal(value, 1);
  return (
    <details className={ui.second} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>As a table</summary>
      {isOpen && (
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>From</th>
              {series.map((s) => (
                <th key={s.name} className={ui.num}>
                  {s.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {days.map((day) => (
              <tr key={day}>
                <td>{dayOf(day)}</td>
                {of.map((values, i) => (
                  <td key={series[i]!.name} className={ui.num}>
                    {says(values.get(day))}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}
