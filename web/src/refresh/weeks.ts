import type { Schema } from '../api/client';

/** Sums of seven days, the last one ending with the last day; a week with a missing day is a gap, not less. */
export function weeks(days: readonly Schema['PageDay'][]) {
  const found: { day: string; clicks: number | null; position: number | null }[] = [];
  for (let end = days.length; end >= 7; end -= 7) {
    const some = days.slice(end - 7, end);
    const isWhole = some.every((d) => d.clicks !== null);
    const impressions = some.reduce((sum, d) => sum + (d.position === null ? 0 : (d.impressions ?? 0)), 0);
    found.unshift({
      day: some[0]!.day,
      clicks: isWhole ? some.reduce((sum, d) => sum + d.clicks!, 0) : null,
      position:
        impressions === 0
          ? null
          : some.reduce((sum, d) => sum + (d.position ?? 0) * (d.impressions ?? 0), 0) / impressions,
    });
  }
  return found;
}
