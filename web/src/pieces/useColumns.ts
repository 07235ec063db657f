import { useCallback, useState } from 'react';
import type { Column } from './DataTable';

/** What a planner changed about the columns of a table; kept in the browser. */
export interface ColumnChoice {
  /** Keys of columns in their order; those not named stay where they are. */
  order?: string[];
  /** Columns that are always or never shown; the others depend on the room there is. */
  shown?: Record<string, boolean>;
  /** Widths in pixels. */
  widths?: Record<string, number>;
}

const gap = 10;
const narrowest = 24;

/** The least width of a column, in pixels, from its grid track. */
export const leastWidth = (track: string) => Number(/^(?:minmax\()?(\d+)px/.exec(track)?.[1] ?? 60);

/** The columns in the order that was chosen. */
export function inOrder<Row>(columns: Column<Row>[], order: string[] | undefined) {
  if (!order) return columns;
  const at = (column: Column<Row>, i: number) => {
    const place = order.indexOf(column.key);
    return place < 0 ? i : place;
  };
  return columns
    .map((column, i) => ({ column, place: at(column, i), i }))
    .sort((a, b) => a.place - b.place || a.i - b.i)
    .map(({ column }) => column);
}

/**
 * The columns that are shown. Where there is too little room, those that yield are left out, the lowest number first, so
 * that what tells rows apart is not cut.
 * @param room Pixels; 0 where it is not known yet, and all are shown.
 */
export function fitting<Row>(columns: Column<Row>[], choice: ColumnChoice, room: number) {
  const width = (column: Column<Row>) => (choice.widths?.[column.key] ?? leastWidth(column.width)) + gap;
  let shown = inOrder(columns, choice.order).filter((column) => choice.shown?.[column.key] !== false);
  if (room === 0) return shown;
  let needed = shown.reduce((sum, column) => sum + width(column), 0);
  const yielding = shown
    .filter((column) => column.yields !== undefined && choice.shown?.[column.key] !== true)
    .sort((a, b) => a.yields! - b.yields!);
  for (const column of yielding) {
    if (needed <= room) break;
    needed -= width(column);
    shown = shown.filter((other) => other !== column);
  }
  return shown;
}

function read(key: string): ColumnChoice {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '{}') as ColumnChoice;
  } catch {
    return {};
  }
}

/** The columns of a table as the planner wants them, and ways to change that. */
export function useColumns<Row>(table: string, columns: Column<Row>[], room: number) {
  const key = `jade-orchard.columns.${table}`;
  const [choice, setChoice] = useState(() => read(key));
  const change = useCallback(
    (next: ColumnChoice) => {
      setChoice(next);
      if (Object.keys(next).length === 0) localStorage.removeItem(key);
      else localStorage.setItem(key, JSON.stringify(next));
    },
    [key],
  );
  const ordered = inOrder(columns, choice.order);
  const shown = fitting(columns, choice, room);
  return {
    ordered,
    shown,
    isChanged: Object.keys(choice).length > 0,
    show: (column: string, isShown: boolean) => change({ ...choice, shown: { ...choice.shown, [column]: isShown } }),
    /** Moves a column before another; to the end where there is none. */
    moveBefore: (column: string, other: string | undefined) => {
      const keys = ordered.map((c) => c.key).filter((k) => k !== column);
      keys.splice(other === undefined ? keys.length : keys.indexOf(other), 0, column);
      change({ ...choice, order: keys });
    },
    resize: (column: string, width: number) =>
      change({ ...choice, widths: { ...choice.widths, [column]: Math.max(narrowest, Math.round(width)) } }),
    reset: () => change({}),
    /** Of a grid with these columns. */
    template: shown.map((c) => (choice.widths?.[c.key] ? `${choice.widths[c.key]}px` : c.width)).join(' '),
    least: shown.reduce((sum, c) => sum + (choice.widths?.[c.key] ?? leastWidth(c.width)) + gap, 0),
  };
}

export type Columns<Row> = ReturnType<typeof useColumns<Row>>;
