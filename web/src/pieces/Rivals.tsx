import type { Schema } from '../api/client';
import { number } from './format';

/** The pages of others that stand best in the results of some keywords. */
export function Rivals({ rivals, keywords }: { rivals: Schema['RivalView'][]; keywords: number }) {
  return (
    <table className="facts">
      <thead>
        <tr>
          <th>Page</th>
          <th className="num">Clicks, est.</th>
          <th className="num">Keywords</th>
        </tr>
      </thead>
      <tbody>
        {rivals.map((r) => (
          <tr key={r.url}>
            <td className="url">{r.url}</td>
            <td className="num">{number(r.clicks)}</td>
            <td className="num">
              {r.seenFor} of {keywords}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
