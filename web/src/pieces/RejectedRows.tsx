import type { Schema } from '../api/client';
import { number } from './format';
import ui from './ui.module.css';

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
      <table className={ui.facts}>
        <thead>
          <tr>
            <th className={ui.num}>Line</th>
            <th>Column</th>
            <th>Reason</th>
            <th>Value</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.line} ${row.column}`}>
              <td className={ui.num}>{row.line}</td>
              <td>{row.column || '–'}</td>
              <td>{row.reason}</td>
              <td className={`${ui.quiet} ${ui.wrap}`}>{row.value.slice(0, 60)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
