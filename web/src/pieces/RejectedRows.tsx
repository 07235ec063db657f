import type { Schema } from '../api/client';
import { number } from './format';

/** Rows that did not go in, with line, column and reason. */
export function RejectedRows({
  href,
  rows,
}: {
  href: string;
  rows: readonly (Schema['RejectedRowRow'] | Schema['RejectedRow'])[];
}) {
  return (
    <>
      <h3>Rejected rows</h3>
      <p>
        The first {number(rows.length)} are shown. <a href={href}>Download all as CSV</a>
      </p>
      <table className="facts">
        <thead>
          <tr>
            <th className="num">Line</th>
            <th>Column</th>
            <th>Reason</th>
            <th>Value</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.line} ${row.column}`}>
              <td className="num">{row.line}</td>
              <td>{row.column || '–'}</td>
              <td>{row.reason}</td>
              <td className="quiet" style={{ wordBreak: 'break-word' }}>
                {row.value.slice(0, 60)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
