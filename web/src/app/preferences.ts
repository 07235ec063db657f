import { useSyncExternalStore } from 'react';

/** How a planner likes the screen; kept in the browser. */
export interface Preferences {
  theme: 'system' | 'light' | 'dark';
  density: 'dense' | 'regular' | 'roomy';
}

const stored = 'jade-orchard.preferences';
const usual: Preferences = { theme: 'system', density: 'regular' };
const listeners = new Set<() => void>();
let now = read();

function read(): Preferences {
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(stored) ?? '{}') as Partial<Preferences>) };
  } catch {
    return usual;
  }
}

/** Changes some of them, on every screen at once. */
export function prefer(changes: Partial<Preferences>) {
  now = { ...now, ...changes };
  localStorage.setItem(stored, JSON.stringify(now));
  listeners.forEach((listener) => listener());
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const usePreferences = () => useSyncExternalStore(subscribe, () => now);

/** Height of a table's row, in pixels. */
export const rowHeights: Record<Preferences['density'], number> = { dense: 26, regular: 31, roomy: 38 };

/** Whether the window fulfils a media query, as it changes. */
function useMedia(query: MediaQueryList | undefined) {
  return useSyncExternalStore(
    (listener) => {
      query?.addEventListener('change', listener);
      return () => query?.removeEventListener('change', listener);
    },
    () => query?.matches ?? false,
  );
}

const media = (text: string) => (typeof matchMedia === 'function' ? matchMedia(text) : undefined);
const dark = media('(prefers-color-scheme: dark)');
const narrow = media('(max-width: 899px)');

/** True where colours are dark, by choice or since the system is. */
export function useIsDark() {
  const { theme } = usePreferences();
  const isSystemDark = useMedia(dark);
  return theme === 'system' ? isSystemDark : theme === 'dark';
}

/** True where the window has too little room for two panes side by side. */
export const useIsNarrow = () => useMedia(narrow);
