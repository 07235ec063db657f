import { createContext, useContext, useEffect } from 'react';

/** A key and what it does on a screen. */
export interface KeyHelp {
  keys: string;
  does: string;
}

export const everywhere: KeyHelp[] = [
  { keys: '/', does: 'search this list' },
  { keys: 'k or Ctrl K', does: 'go to or do anything' },
  { keys: '[ and ]', does: 'previous stage, next stage' },
  { keys: '↑ ↓ Page Up Page Down Home End', does: 'move through the list' },
  { keys: 'Ctrl Z', does: 'undo' },
  { keys: 'Ctrl Shift Z', does: 'redo' },
  { keys: '?', does: 'show or hide these keys' },
  { keys: 'Esc', does: 'back to the list' },
];

/** Where screens register their keys. */
export const KeysContext = createContext<(keys: KeyHelp[]) => void>(() => undefined);

/** Registers the keys of a screen while it is shown. The list must keep its identity between renders. */
export function useKeyHelp(keys: KeyHelp[]) {
  const say = useContext(KeysContext);
  useEffect(() => {
    say(keys);
    return () => say([]);
  }, [say, keys]);
}

/** True where a key is meant for a field that is being written in. */
export const isWriting = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** The same, but that boxes and choices are ticked, not written in. */
export const isTyping = (target: EventTarget | null) =>
  isWriting(target) && !(target instanceof HTMLInputElement && ['checkbox', 'radio'].includes(target.type));

/** Gives the list of the screen the keys. */
export const focusList = () => document.querySelector<HTMLElement>('[data-list]')?.focus();
