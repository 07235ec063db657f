import type { Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { day, decimal, shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

const overTimeSays: Record<Schema['ListChange'], string> = {
  came: 'came',
  went: 'went',
  rose: 'rose',
  fell: 'fell',
  stayed: 'stayed',
};
const signs: Record<Schema['ListChange'], string> = { came: '+', went: '−', rose: '↑', fell: '↓', stayed: '=' };

/** Two result lists next to each other, over time or of two keywords, shared URLs joined in one row. */
export function ComparedLists({ view, overTime }: { view: Schema['ListComparisonView']; overTime?: boolean }) {
  const host = useProject().data?.project.host;
  const count = (change: Schema['ListChange']) => view.rows.filter((r) => r.change === change).length;
  const label = (text: string) => (overTime ? day(text) : text);
  return (
    <>
      <p>
        {overTime
          ? `${count('came')} came, ${count('went')} went, ${count('rose')} rose, ${count('fell')} fell, ${count('stayed')} stayed where they were.`
          : `They share ${view.overlap} of the first 10.`}{' '}
        Rank-biased overlap {decimal(view.rankBiasedOverlap, 2)}.
      </p>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th className={ui.num} title={label(view.beforeLabel)}>
              {overTime ? 'before' : '1st'}
            </th>
            <th className={ui.num} title={label(view.afterLabel)}>
              {overTime ? 'now' : '2nd'}
            </th>
            <th />
            <th>Page</th>
          </tr>
        </thead>
        <tbody>
          {view.rows.map((r) => (
            <tr
              key={r.url}
              className={[!overTime && r.before !== null && r.after !== null && ui.shared, r.isOwn && ui.own]
                .filter(Boolean)
                .join(' ')}
            >
              <td className={ui.num}>{r.before ?? ''}</td>
              <td className={ui.num}>{r.after ?? ''}</td>
              <td className={`${ui.second} ${ui.nowrap}`}>
                {overTime
                  ? `${signs[r.change]} ${overTimeSays[r.change]}`
                  : r.before !== null && r.after !== null
                    ? 'both'
                    : ''}
              </td>
              <td className={ui.url}>{r.isOwn ? <b>{shortUrl(r.url, host)}</b> : shortUrl(r.url, undefined)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
