import type { Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { day, decimal, shortUrl } from '../pieces/format';

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
      <table className="facts">
        <thead>
          <tr>
            <th className="num" title={label(view.beforeLabel)}>
              {overTime ? 'before' : '1st'}
            </th>
            <th className="num" title={label(view.afterLabel)}>
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
              className={!overTime && r.before !== null && r.after !== null ? 'shared' : undefined}
              style={r.isOwn ? { boxShadow: 'inset 3px 0 var(--clay)' } : undefined}
            >
              <td className="num">{r.before ?? ''}</td>
              <td className="num">{r.after ?? ''}</td>
              <td className="second" style={{ whiteSpace: 'nowrap' }}>
                {overTime
                  ? `${signs[r.change]} ${overTimeSays[r.change]}`
                  : r.before !== null && r.after !== null
                    ? 'both'
                    : ''}
              </td>
              <td className="url">{r.isOwn ? <b>{shortUrl(r.url, host)}</b> : shortUrl(r.url, undefined)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
