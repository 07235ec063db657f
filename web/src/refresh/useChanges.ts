import { words } from '../api/words';
import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

export type Change = Schema['ChangeView'];

/** Which changes are asked for, as it is in the address. */
export function changesQuery(list: ListState) {
  return {
    ...list.listing,
    PageId: list.numeric('page'),
    Kind: words.changeKinds.find((k) => k.value === list.text('kind'))?.value,
    Verdict: words.effectVerdicts.find((v) => v.value === list.text('verdict'))?.value,
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
