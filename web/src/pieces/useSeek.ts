import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Schema } from '../api/client';
import { keyOf, type Root } from '../api/keys';

/**
 * Finds the row that was selected elsewhere (by a link, the palette, another screen) and hands its place to `found`, once.
 * Returns what the table calls with the id of a row that it selects itself, which need not be found.
 */
export function useSeek({
  name,
  asked,
  isFilled,
  selected,
  shownAt,
  read,
  found,
}: {
  name: Root;
  /** What is listed, as text. */
  asked: string;
  /** False until there are rows to scroll to. */
  isFilled: boolean;
  selected: string | undefined;
  /** Where the selected row is drawn, if it is. */
  shownAt: number | undefined;
  read: (find: string) => Promise<{ tally: Schema['ListTally'] }>;
  found: (place: number, id: string) => void;
}) {
  const [selectedHere, setSelectedHere] = useState<string>();
  const isSought = isFilled && selected !== undefined && selected !== selectedHere;
  const place = useQuery({
    queryKey: keyOf(name, asked, 'place', selected),
    queryFn: () => read(selected!).then((page) => page.tally.place ?? null),
    enabled: isSought && shownAt === undefined,
  }).data;
  const at = shownAt ?? place ?? undefined;
  const last = useRef<string>(undefined);
  useEffect(() => {
    if (isSought && at !== undefined && selected !== last.current) found(at, selected);
    if (isFilled && (at !== undefined || !isSought)) last.current = selected;
  });
  return setSelectedHere;
}
