import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import type { Evidence } from './DataTable';

/** How long somebody stays on a row that they look at: a key that is held down, and a mouse on its way, pass rows faster. */
const passing = 50;

/**
 * Reads evidence beforehand, so that going on to the next row waits for nothing.
 * @returns reads what the mouse points at, when it stays there.
 */
export function usePrefetch(evidence: Evidence[]): (pointedAt: Evidence | undefined) => void {
  const queries = useQueryClient();
  const pointing = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(pointing.current), []);
  const keys = JSON.stringify(evidence.map((e) => e.queryKey));
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const e of evidence) void queries.prefetchQuery(e);
    }, passing);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- by their keys: each render makes new ones
  }, [keys, queries]);
  return (pointedAt) => {
    clearTimeout(pointing.current);
    if (pointedAt) pointing.current = setTimeout(() => void queries.prefetchQuery(pointedAt), passing);
  };
}
