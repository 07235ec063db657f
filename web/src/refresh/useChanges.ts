import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

export type Change = Schema['ChangeView'];

export const kinds = [
  { value: 'title', says: 'new titles' },
  { value: 'description', says: 'new descriptions' },
  { value: 'headings', says: 'changed headings' },
  { value: 'text', says: 'changed texts' },
  { value: 'words', says: 'changed lengths' },
  { value: 'links', says: 'changed links' },
  { value: 'address', says: 'changed addresses or statuses' },
  { value: 'other', says: 'other changes' },
] as const satisfies readonly { value: Schema['ChangeKind']; says: string }[];

export const verdicts = [
  { value: 'helped', says: 'that helped' },
  { value: 'hurt', says: 'that hurt' },
  { value: 'noEffect', says: 'without effect' },
  { value: 'tooEarly', says: 'too early to tell' },
  { value: 'tooLittleData', says: 'with too little data' },
] as const satisfies readonly { value: Schema['EffectVerdict']; says: string }[];

/** Which changes are asked for, as it is in the address. */
export function changesQuery(list: ListState) {
  return {
    ...list.listing,
    PageId: list.numeric('page'),
    Kind: kinds.find((k) => k.value === list.text('kind'))?.value,
    Verdict: verdicts.find((v) => v.value === list.text('verdict'))?.value,
    From: list.text('from'),
    To: list.text('to'),
  };
}

/** How a verdict is told apart without colour too. */
export const verdictMark = {
  helped: '▲',
  hurt: '▼',
  noEffect: '=',
  tooEarly: '…',
  tooLittleData: '?',
} as const satisfies Record<Schema['EffectVerdict'], string>;
