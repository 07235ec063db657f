import type { Schema } from '../api/client';
import { day, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** The bar below queries and pages: what all of them got, over which days. */
export const PerformanceTally = ({
  page,
  noun,
}: {
  page: Schema['QueryListPage'] | Schema['PageQueriesPage'];
  noun: string;
}) => (
  <>
    <span>
      <b>{number(page.tally.rows)}</b> {noun}
    </span>
    <span>
      <b>{number(page.clicks)}</b> clicks
    </span>
    <span>
      <b>{number(page.impressions)}</b> impressions, counted
    </span>
    <span>
      at stake <b>{number(page.tally.atStake)}</b> clicks a month
    </span>
    <span className={ui.gap} />
    {page.period && (
      <span
        title={
          page.period.beforeFrom
            ? `Compared with ${day(page.period.beforeFrom)} to ${day(page.period.beforeTo)}`
            : 'Nothing is known of the days before'
        }
      >
        {day(page.period.from)} to {day(page.period.to)}
        {page.period.missingDays > 0 && `, ${page.period.missingDays} days missing`}
      </span>
    )}
  </>
);
