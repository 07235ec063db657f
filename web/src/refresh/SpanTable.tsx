import type { ReactNode } from 'react';
import type { Schema } from '../api/client';
import { decimal, number } from '../pieces/format';
import { rate } from './says';
import ui from '../pieces/ui.module.css';

/** One more row: its name and its two values. */
export type SpanRow = [name: string, now: ReactNode, before?: ReactNode];

/** What a page or a query got in the period, beside the days that are compared. */
export function SpanTable({
  now,
  before,
  more = [],
  names = ['In the period', 'Compared'],
}: {
  now: Schema['SpanView'];
  before: Schema['SpanView'] | null;
  more?: SpanRow[];
  names?: readonly [now: string, before: string];
}) {
  const rows: SpanRow[] = [
    ['Clicks, counted', number(now.clicks), number(before?.clicks)],
    ['Impressions, counted', number(now.impressions), number(before?.impressions)],
    ['Click rate', rate(now.clickRate), rate(before?.clickRate)],
    ['Average position', decimal(now.position, 1), decimal(before?.position, 1)],
    ...more,
  ];
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th />
          <th className={ui.num}>{names[0]}</th>
          <th className={ui.num}>{names[1]}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, inPeriod, compared]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className={ui.num}>{inPeriod}</td>
            <td className={`${ui.num} ${ui.second}`}>{compared}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
