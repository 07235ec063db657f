import { useCallback } from 'react';
import type { ListState } from './useListState';

/**
 * Which pane is open instead of the selection, kept in the address, so that it can be linked to and gone back to.
 * @param panes Those that the screen has.
 */
export function usePane<Pane extends string>(list: ListState, panes: readonly Pane[]) {
  const given = list.text('pane');
  const { set } = list;
  const open = useCallback((pane: Pane | undefined) => set({ pane }), [set]);
  const close = useCallback(() => set({ pane: undefined }), [set]);
  return { shown: panes.find((pane) => pane === given), open, close };
}
