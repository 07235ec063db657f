import { words } from '../api/words';
import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

export type Rank = Schema['RankRow'];

/** How a move is told apart without colour. */
export const moveSign: Record<Schema['RankMove'], string> = {
  up: '▲',
  down: '▼',
  arrived: '＋',
  left: '✕',
  same: '=',
  absent: '',
  unknown: '',
};

export const groups = [
  { value: 'cluster', says: 'clusters' },
  { value: 'page', says: 'pages' },
] as const;

/** Which ranks are asked for, as it is in the address. */
export function ranksQuery(list: ListState) {
  return {
    ...list.listing,
    Group: (list.text('by') ?? 'keyword') as Schema['RankGroup'],
    From: list.text('from'),
    To: list.text('to'),
    Move: words.rankMoves.find((m) => m.value === list.text('move'))?.value,
    ClusterId: list.numeric('cluster'),
    PageId: list.numeric('page'),
  };
}
