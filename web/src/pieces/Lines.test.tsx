import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { Lines } from './Lines';

afterEach(cleanup);

const week = (n: number) => new Date(Date.UTC(2026, 0, 5 + 7 * n)).toISOString().slice(0, 10);
const run = (values: (number | null)[]) => values.map((value, n) => ({ day: week(n), value }));
const draw = (values: (number | null)[], upsideDown = false) =>
  render(<Lines title="Clicks a week" series={[{ name: '/suits', points: run(values) }]} upsideDown={upsideDown} />)
    .container;

describe('Lines', () => {
  it('says what it shows to those who do not see it', () => {
    draw([1, 2]);
    expect(screen.getByRole('img', { name: 'Clicks a week, /suits' })).toBeTruthy();
  });

  it('draws nothing without values', () => {
    expect(draw([null, null]).querySelector('svg')).toBeNull();
  });

  it('breaks where a page was not shown, and keeps a single week visible', () => {
    const picture = draw([5, 4, null, null, 3, null, null, 2, 1]);
    expect(picture.querySelectorAll('polyline')).toHaveLength(2);
    expect(picture.querySelectorAll('circle')).toHaveLength(1);
  });

  it('has its numbers as a table, when they are asked for', () => {
    const picture = draw([5, null, 2.5]);
    expect(screen.queryByRole('table')).toBeNull();
    const details = picture.querySelector('details')!;
    details.open = true;
    fireEvent(details, new Event('toggle'));
    expect(screen.getAllByRole('row').map((row) => row.textContent)).toEqual([
      'From/suits',
      '5 January 20265',
      '12 January 2026–',
      '19 January 20262.5',
    ]);
  });

  it('has the first position at the top where a low number is good', () => {
    const heights = (picture: Element) =>
      picture
        .querySelector('polyline')!
        .getAttribute('points')!
        .split(' ')
        .map((p) => Number(p.split(',')[1]));
    const [first, tenth] = heights(draw([1, 10], true));
    expect(first).toBeLessThan(tenth!);
    cleanup();
    const [few, many] = heights(draw([1, 10]));
    expect(few).toBeGreaterThan(many!);
  });
});
