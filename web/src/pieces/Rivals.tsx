import type { Schema } from '../api/client';
import { number } from './format';
import ui from './ui.module.css';

/** The pages of others that stand best in the results of some keywords. */
export function Rivals({ rivals, keywords }: { rivals: Schema['RivalView'][]; keywords: number }) {
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>Page</th>
          <th className={ui.num}>Clicks, est.</th>
          <th className={ui.num}>Keywords</th>
        </tr>
      </thead>
      <tbody>
        {rivals.map((r) => (
          <tr key={r.url}>
            <td className={ui.url}>{r.url}</td>
            <td className={ui.num}>{number(r.clicks)}</td>
            <td className={ui.num}>
              {r.seenFor} of {keywords}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
