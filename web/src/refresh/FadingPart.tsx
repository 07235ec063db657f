import type { Schema } from '../api/client';
import { day, decimal, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** A position; an en dash where the page was not in the list. */
const place = (position: number) => (position === 0 ? '–' : number(position));

const signed = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${number(Math.abs(Math.round(value)))}`;

/** What a fading page lost, since when, and by what: the parts add up to the change. */
export function FadingPart({ fading }: { fading: Schema['FadingDetail'] }) {
  const { since, before, now, siteCourse, lost, p } = fading.fading;
  return (
    <>
      <hr />
      <h2 className={ui.clay}>Fading since {day(since)}</h2>
      <p>
        {number(now)} clicks in the last 28 days, {number(before)} in{' '}
        {fading.yearBefore ? 'the same days a year before' : 'the 28 days before'}. All other pages get{' '}
        {decimal(siteCourse, 2)} times as many now as then, so that it lost <b>{number(lost)}</b> clicks a month.
        Probability by chance {p < 0.001 ? 'below 0.1 %' : `${decimal(p * 100, 1)} %`}, for all pages tested.
      </p>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Through</th>
            <th className={ui.num}>Position</th>
            <th className={ui.num}>Searches</th>
            <th className={ui.num}>Click rate</th>
            <th className={ui.num}>Clicks</th>
          </tr>
        </thead>
        <tbody>
          {fading.queries.map((q) => (
            <tr key={q.query}>
              <td>
                {q.query === '' ? <span className={ui.quiet}>queries that are not named</span> : q.query}
                <div className={ui.second}>
                  position {decimal(q.before.position, 1)} → {decimal(q.now.position, 1)}
                </div>
              </td>
              <td className={ui.num}>{signed(q.byPosition)}</td>
              <td className={ui.num}>{signed(q.bySearches)}</td>
              <td className={ui.num}>{signed(q.byClickRate)}</td>
              <td className={ui.num}>{signed(q.now.clicks - q.before.clicks)}</td>
            </tr>
          ))}
          <tr>
            <td>
              <b>All its queries</b>
            </td>
            <td className={ui.num}>{signed(fading.byPosition)}</td>
            <td className={ui.num}>{signed(fading.bySearches)}</td>
            <td className={ui.num}>{signed(fading.byClickRate)}</td>
            <td className={ui.num}>{signed(now - before)}</td>
          </tr>
        </tbody>
      </table>
      {fading.tookPlace.length > 0 && (
        <>
          <h3>Who took its place</h3>
          <table className={ui.facts}>
            <thead>
              <tr>
                <th>Page, and the query</th>
                <th className={ui.num}>Then</th>
                <th className={ui.num}>Now</th>
                <th className={ui.num}>Ours</th>
              </tr>
            </thead>
            <tbody>
              {fading.tookPlace.map((t) => (
                <tr key={`${t.query} ${t.url}`}>
                  <td className={ui.wrap}>
                    {t.url.replace(/^https?:\/\//, '')}
                    <div className={ui.second}>{t.query}</div>
                  </td>
                  <td className={ui.num}>{place(t.before)}</td>
                  <td className={ui.num}>{place(t.position)}</td>
                  <td className={ui.num}>
                    {place(t.oursBefore)} → {place(t.ours)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className={ui.quiet}>By the newest captured lists and those from when it began to fade.</p>
        </>
      )}
    </>
  );
}
