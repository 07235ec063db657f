import { useSyncExternalStore } from 'react';

/** What somebody else did, in another window. */
export interface Others {
  /** Their name; empty where nobody has to sign in. */
  author: string;
  says: string;
}

/** For so long it is shown. */
const shownFor = 10_000;

const listeners = new Set<() => void>();
let now: Others | undefined;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Shows it for a while, instead of the one before. */
export function tellOfOthers(others: Others | undefined) {
  now = others;
  clearTimeout(timer);
  if (others) timer = setTimeout(() => tellOfOthers(undefined), shownFor);
  listeners.forEach((listener) => listener());
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** What somebody else did last, as long as it is news. */
export const useOthers = () => useSyncExternalStore(subscribe, () => now);
