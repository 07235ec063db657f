import { useSyncExternalStore } from 'react';

/** What was last done, or went wrong; shown in the tally bar. */
export interface LastAction {
  text: string;
  isError: boolean;
  /** The undo step that was made; absent where there is nothing to undo. */
  step?: string;
  /** Where more of it is to be seen. */
  link?: string;
}

const listeners = new Set<() => void>();
let now: LastAction | undefined;

/** Shows it instead of the one before; undefined shows nothing. */
export function tell(action: LastAction | undefined) {
  now = action;
  listeners.forEach((listener) => listener());
}

/** Forgets what says nothing on another stage; a failure and the end of a job stay until they are seen. */
export function leaveStage() {
  if (!now?.isError && !now?.link) tell(undefined);
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useLastAction = () => useSyncExternalStore(subscribe, () => now);
