import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

export type Rank = Schema['RankRow'];

export const moves = [
  { value: 'up', says: 'that went up', short: 'up' },
  { value: 'down', says: 'that went down', short: 'down' },
  { value: 'arrived', says: 'that arrived', short: 'arrived' },
  { value: 'left', says: 'that left', short: 'left' },
  { value: 'same', says: 'that stayed', short: 'same' },
  { value: 'absent', says: 'where the site is absent', short: 'absent' },
  { value: 'unknown', says: 'captured only once', short: '' },
] as const satisfies readonly { value: Schema['RankMove']; says: string; short: string }[];

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
    Move: moves.find((m) => m.value === list.text('move'))?.value,
    ClusterId: list.numeric('cluster'),
    PageId: list.numeric('page'),
  };
}
