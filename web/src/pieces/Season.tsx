import type { Schema } from '../api/client';
import { number } from './format';
import ui from './ui.module.css';
import styles from './charts.module.css';

type SeasonOf = Schema['Season'];

const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** Conditions on the months in which something peaks. */
export const peakOptions = [
  { value: '0', says: 'with a peak' },
  ...names.map((name, i) => ({ value: String(i + 1), says: `peaking in ${name}` })),
];

/** Conditions on the trend. */
export const trendOptions: { value: Schema['Direction']; says: string }[] = [
  { value: 'rising', says: 'rising' },
  { value: 'falling', says: 'falling' },
  { value: 'level', says: 'neither rising nor falling' },
];

const arrows: Record<Schema['Direction'], string> = { rising: '↗', falling: '↘', level: '' };

/** "Jun–Aug, Dec": months in a row as a span, also over the turn of the year. */
export function peaksOf(peaks: readonly number[]) {
  const begins = peaks.filter((m) => !peaks.includes(m === 1 ? 12 : m - 1));
  if (peaks.length === 12 || (begins.length === 0 && peaks.length > 0)) return 'all year';
  return begins
    .map((begin) => {
      let end = begin;
      while (peaks.includes((end % 12) + 1)) end = (end % 12) + 1;
      return begin === end ? names[begin - 1]! : `${names[begin - 1]}–${names[end - 1]}`;
    })
    .join(', ');
}

/** The months of a season with their first days, oldest first. */
export const monthsOf = (season: SeasonOf) =>
  season.volumes.map((volume, i) => {
    const newest = new Date(season.newest);
    const date = new Date(Date.UTC(newest.getUTCFullYear(), newest.getUTCMonth() - (season.volumes.length - 1 - i), 1));
    return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, volume };
  });

const width = 30;
const height = 16;

/** Searches month by month as a small line, with the direction, and the peaks where there are any. */
export function SeasonCell({ season }: { season: SeasonOf | null }) {
  if (!season) return <span className={ui.quiet}>–</span>;
  const most = Math.max(1, ...season.volumes);
  const x = (i: number) => 1 + (i / (season.volumes.length - 1)) * (width - 2);
  const y = (volume: number) => height - 1 - (volume / most) * (height - 2);
  const peaks = peaksOf(season.peaks);
  const kind = season.isCounted ? 'own impressions, counted' : 'searches, estimated';
  const says = `${season.volumes.length} months of ${kind}: ${number(Math.min(...season.volumes))} to ${number(most)}. ${
    season.direction === 'level' ? 'Neither rising nor falling' : season.direction === 'rising' ? 'Rising' : 'Falling'
  }${peaks ? `; peaks ${peaks}` : ', no peak'}.`;
  return (
    <span className={styles.season} title={says}>
      <svg width={width} height={height} role="img" aria-label={says}>
        <polyline points={season.volumes.map((v, i) => `${x(i).toFixed(1)},${y(v).toFixed(1)}`).join(' ')} />
      </svg>
      <span className={season.direction === 'falling' ? ui.clay : ''}>{arrows[season.direction]}</span>
      <span className={ui.second}>{peaks}</span>
    </span>
  );
}

/** Searches by month, a row for each year: the darker the more, with the number in each month and peaks framed. */
export function DemandCalendar({ season, of }: { season: SeasonOf; of: string }) {
  const months = monthsOf(season);
  const most = Math.max(1, ...season.volumes);
  const years = [...new Set(months.map((m) => m.year))];
  const peaks = peaksOf(season.peaks);
  const short = (volume: number) => (volume >= 10_000 ? `${Math.round(volume / 1000)}k` : number(volume));
  return (
    <figure className={styles.calendar}>
      <figcaption>
        Demand of {of} by month, {season.isCounted ? 'own impressions, counted' : 'estimated'}.{' '}
        {peaks ? `It peaks ${peaks}; framed.` : 'It has no peak.'}
        {season.direction !== 'level' && ` Without its season it is ${season.direction}.`}
      </figcaption>
      <table>
        <thead>
          <tr>
            <th scope="col">Year</th>
            {names.map((name, i) => (
              <th key={name} scope="col" className={season.peaks.includes(i + 1) ? styles.peak : undefined}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {years.map((year) => (
            <tr key={year}>
              <th scope="row">{year}</th>
              {names.map((name, i) => {
                const month = months.find((m) => m.year === year && m.month === i + 1);
                if (!month) return <td key={name} />;
                // The shade is a number that was computed.
                const shade = Math.round((month.volume / most) * 38);
                return (
                  <td
                    key={name}
                    className={season.peaks.includes(i + 1) ? styles.peak : undefined}
                    title={`${name} ${year}: ${number(month.volume)}`}
                    style={{ background: `color-mix(in srgb, var(--jade) ${shade}%, transparent)` }}
                  >
                    {short(month.volume)}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
