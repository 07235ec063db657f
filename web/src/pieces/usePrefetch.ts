import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Evidence } from './DataTable';

/** Reads evidence beforehand, so that going on to the next row waits for nothing. */
export function usePrefetch(evidence: Evidence[]) {
  const queries = useQueryClient();
  const keys = JSON.stringify(evidence.map((e) => e.queryKey));
  useEffect(() => {
    // A key that is held down passes rows faster than this, and none of them is looked at.
    const timer = setTimeout(() => {
      for (const e of evidence) void queries.prefetchQuery(e);
    }, 50);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- by their keys: each render makes new ones
  }, [keys, queries]);
}
