import { describe, expect, it } from 'vitest';
import { weeks } from './weeks';

const at = (n: number, clicks: number | null, impressions = 10, position: number | null = 4) => ({
  day: new Date(Date.UTC(2026, 0, 1 + n)).toISOString().slice(0, 10),
  clicks,
  impressions: clicks === null ? null : impressions,
  position: clicks === null ? null : position,
  isPreliminary: false,
});

describe('weeks', () => {
  it('sums seven days, from the end', () => {
    const found = weeks(Array.from({ length: 15 }, (_, n) => at(n, n)));
    expect(found.map((w) => [w.day, w.clicks])).toEqual([
      ['2026-01-02', 28],
      ['2026-01-09', 77],
    ]);
  });

  it('makes a gap of a week with a missing day', () => {
    const found = weeks(Array.from({ length: 14 }, (_, n) => at(n, n === 3 ? null : 1)));
    expect(found.map((w) => w.clicks)).toEqual([null, 7]);
  });

  it('weighs positions by impressions, and has none where the page was not shown', () => {
    const shown = [at(0, 0, 30, 2), at(1, 0, 10, 6), ...Array.from({ length: 5 }, (_, n) => at(n + 2, 0, 0, null))];
    expect(weeks(shown)[0]!.position).toBe(3);
    expect(weeks(Array.from({ length: 7 }, (_, n) => at(n, 0, 0, null)))[0]!.position).toBeNull();
  });
});
