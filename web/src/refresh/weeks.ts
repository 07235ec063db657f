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

/** Sums of seven days around a change, so that no week has days of both sides; a week with a missing day is a gap. */
export function courseWeeks(days: readonly Schema['CourseDay'][], changed: string) {
  const found: { day: string; clicks: number | null; expected: number | null }[] = [];
  const at = days.findIndex((d) => d.day >= changed);
  const start = at < 0 ? 0 : at % 7;
  for (let first = start; first + 7 <= days.length; first += 7) {
    const some = days.slice(first, first + 7);
    const sum = (of: (d: Schema['CourseDay']) => number | null) =>
      some.every((d) => of(d) !== null) ? some.reduce((total, d) => total + of(d)!, 0) : null;
    found.push({ day: some[0]!.day, clicks: sum((d) => d.clicks), expected: sum((d) => d.expected) });
  }
  return found;
}
