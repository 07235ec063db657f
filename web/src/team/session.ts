import { useSyncExternalStore } from 'react';
import type { components } from '../api/schema';

export type Session = components['schemas']['SessionView'];

/** Before the server was asked, and where it does not answer, nobody is taken to have to sign in. */
const nobody: Session = { hasSignIn: false, user: null, token: null };

const listeners = new Set<() => void>();
let now = nobody;

/** Who is signed in in this window. */
export const session = () => now;

export function setSession(next: Session) {
  now = next;
  listeners.forEach((listener) => listener());
}

/** The session has ended: the server no longer knows it. What is on screen stays, below the form to sign in again. */
export function loseSession() {
  if (now.user) setSession({ ...now, user: null, token: null });
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useSession = () => useSyncExternalStore(subscribe, () => now);

/** Whether who looks at this can change things; the server refuses them anyway where not. */
export const useCanChange = () => useSession().user?.role !== 'reader';
