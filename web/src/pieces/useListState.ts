import { useCallback } from 'react';
import { useSearchParams } from 'react-router';
import { fileUrl } from '../api/base';

/** What a list shows, kept in the address, so that it can be gone back to and sent on. */
export function useListState() {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (changes: Record<string, string | number | undefined>) =>
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [name, value] of Object.entries(changes)) {
            if (value === undefined || value === '') next.delete(name);
            else next.set(name, String(value));
          }
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const text = (name: string) => params.get(name) ?? undefined;
  const numeric = (name: string) => {
    const value = Number(params.get(name));
    return params.has(name) && Number.isFinite(value) ? value : undefined;
  };
  return {
    text,
    numeric,
    set,
    listing: {
      Search: text('search'),
      Sort: text('sort'),
      Descending: params.get('down') === '1' || undefined,
    },
  };
}

export type ListState = ReturnType<typeof useListState>;

/** The same list as a file. */
export function exportUrl(path: string, query: Record<string, string | number | boolean | null | undefined>) {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(query))
    if (value !== undefined && value !== null) params.set(name, String(value));
  const text = params.toString();
  return fileUrl(text ? `${path}?${text}` : path);
}

/** True where a condition or a search takes part. */
export const isFiltered = (query: object) =>
  Object.entries(query).some(
    ([name, value]) => value !== undefined && !['Sort', 'Descending', 'AnyState'].includes(name),
  );
