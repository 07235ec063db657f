import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { DemandCalendar, monthsOf, peaksOf, SeasonCell } from './Season';

const season = {
  newest: '2026-02-01',
  volumes: [10, 20, 30, 40, 50, 60, 70, 60, 50, 40, 30, 20, 15, 25],
  isCounted: false,
  direction: 'rising' as const,
  tau: 0.4,
  peaks: [6, 7, 8],
};

describe('peaks', () => {
  it('are spans of months in a row, also over the turn of the year', () => {
    expect(peaksOf([])).toBe('');
    expect(peaksOf([6])).toBe('Jun');
    expect(peaksOf([6, 7, 8, 12])).toBe('Jun–Aug, Dec');
    expect(peaksOf([1, 2, 12])).toBe('Dec–Feb');
    expect(peaksOf([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])).toBe('all year');
  });
});

describe('months', () => {
  it('are counted back from the newest', () => {
    expect(monthsOf(season)[0]).toEqual({ year: 2025, month: 1, volume: 10 });
    expect(monthsOf(season).at(-1)).toEqual({ year: 2026, month: 2, volume: 25 });
  });
});

describe('a season', () => {
  it('says in words what the line shows', () => {
    render(<SeasonCell season={season} />);
    expect(
      screen.getByRole('img', { name: /14 months of searches, estimated: 10 to 70. Rising; peaks Jun–Aug/ }),
    ).toBeTruthy();
  });

  it('is a calendar with the years down and the months across', () => {
    render(<DemandCalendar season={{ ...season, isCounted: true }} of="dry suits" />);
    expect(screen.getByText(/own impressions, counted/)).toBeTruthy();
    expect(screen.getByRole('rowheader', { name: '2026' }).parentElement?.textContent).toBe('20261525');
  });
});
