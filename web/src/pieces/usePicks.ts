import { useState } from 'react';
import type { ListState } from './useListState';

/** Picked rows: none at first, or those that the address names. */
export function usePicks<Id extends string | number>(list: ListState, idOf: (text: string) => Id) {
  const [ids, set] = useState<ReadonlySet<Id>>(
    () =>
      new Set(
        (list.text('picked') ?? '')
          .split(',')
          .filter((text) => text !== '')
          .map(idOf),
      ),
  );
  return {
    ids,
    set: (next: ReadonlySet<Id>) => {
      set(next);
      if (list.text('picked') !== undefined) list.set({ picked: undefined });
    },
    clear: () => {
      set(new Set());
      if (list.text('picked') !== undefined) list.set({ picked: undefined });
    },
  };
}
