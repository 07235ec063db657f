import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

export type Query = Schema['QueryView'];
export type PageRow = Schema['PageQueriesView'];

/** The days that can be chosen; others by their first and last day. */
export const periods = [
  { value: '90', says: 'the last 90 days' },
  { value: '486', says: 'the last 16 months' },
] as const;

/** Which days are shown, as they are in the address. */
export function periodOf(list: ListState) {
  return {
    Days: list.text('from') ? undefined : (list.numeric('days') ?? 28),
    From: list.text('from'),
    To: list.text('to'),
    YearBefore: list.text('compare') === 'year' || undefined,
  };
}

/** Types of pages, by the intent of their main cluster. */
export const pageTypes = [
  { value: 'informational', says: 'guides' },
  { value: 'commercial', says: 'comparisons' },
  { value: 'transactional', says: 'shop pages' },
  { value: 'navigational', says: 'pages about the site' },
] as const satisfies readonly { value: Schema['Intent']; says: string }[];

/** What is asked of the queries, as it is in the address. */
export function refreshQuery(list: ListState) {
  return {
    ...list.listing,
    ...periodOf(list),
    Marks: list.text('marks'),
    WithoutMarks: list.text('not'),
    In: list.text('in'),
    Out: list.text('out'),
    Folder: list.text('folder'),
    PageId: list.numeric('page'),
    ClusterId: list.numeric('cluster'),
    TopicId: list.numeric('topic'),
    LeastAtStake: list.numeric('stake'),
    LeastClicks: list.numeric('clicks'),
    LeastImpressions: list.numeric('impressions'),
    LeastPosition: list.numeric('above'),
    MostPosition: list.numeric('below'),
    OlderThan: list.numeric('older'),
    Irrelevant: list.text('ignored') === '1' || undefined,
    IsFading: list.text('fading') === '1' || undefined,
    PageType: pageTypes.find((t) => t.value === list.text('type'))?.value,
  };
}

export type RefreshQuery = ReturnType<typeof refreshQuery>;
