import { nameOf, words } from '../api/words';
import { decimal } from '../pieces/format';

/** The marks of a query, in words. */
export const marksOf = (names: readonly string[]) => names.map((name) => nameOf(words.queryMarks, name)).join(', ');

/** A share of clicks, "4.2 %"; an en dash where it is unknown. */
export const rate = (share: number | null | undefined) =>
  share === null || share === undefined ? '–' : `${decimal(share * 100, 1)} %`;

/** By how much something changed, "+12" or "−3". */
export const change = (now: number, before: number | null | undefined) => {
  if (before === null || before === undefined) return '';
  const by = now - before;
  return by === 0 ? '0' : `${by > 0 ? '+' : '−'}${Math.abs(by).toLocaleString('en-GB')}`;
};

/** Where a page mentions a query: "3, title and text". */
export const mentionsOf = (count: number | null, places: readonly string[]) =>
  count === null ? 'not read' : count === 0 ? 'none' : `${count}× ${places.join(', ')}`;
