import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useId, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import type { Schema } from '../api/client';
import { keyOf, type Root } from '../api/keys';
import { rowHeights, usePreferences } from '../app/preferences';
import { ColumnMenu } from './ColumnMenu';
import { Failed, Reading } from './States';
import { TableHeader } from './TableHeader';
import { useColumns } from './useColumns';
import type { ListState } from './useListState';
import { usePrefetch } from './usePrefetch';
import { useScrollMemory } from './useScrollMemory';
import { useSeek } from './useSeek';
import { useWidth } from './useWidth';
import styles from './table.module.css';

/** Which rows are picked, by their ids. */
export interface Picks<Id extends string | number = number> {
  ids: ReadonlySet<Id>;
  set: (ids: ReadonlySet<Id>) => void;
}

/** A column of a table. */
export interface Column<Row> {
  key: string;
  title: string;
  /** What it is called where its title is short or missing. */
  name?: string;
  /** Left out where there is too little room, the lowest number first; absent where it tells rows apart. */
  yields?: number;
  /** A CSS grid track, such as "80px" or "minmax(160px, 2fr)". */
  width: string;
  numeric?: boolean;
  /** False where the server cannot sort by it. */
  sorts?: boolean;
  render: (row: Row) => ReactNode;
}

interface Page<Row> {
  rows: Row[];
  tally: Schema['ListTally'];
}

/** Which rows are asked for, as the server calls it. `Find` asks where the row with that id stands. */
export interface RowRange {
  Offset: number;
  Limit: number;
  Find?: string;
}

/** The query of a row's evidence. */
export interface Evidence {
  queryKey: readonly unknown[];
  queryFn: () => Promise<unknown>;
}

const pageSize = 100;
/** Sides of a row, the box for picking it, and the button for columns. */
const besideColumns = 62;

/**
 * A table of any number of rows: only what is in sight is drawn, and only the pages of it that are in sight are read.
 * Sorting and filtering are the server's. Moves by arrow keys, Page Up and Down, Home and End.
 */
export function DataTable<Row, Id extends string | number = number>({
  name,
  query,
  read,
  columns,
  list,
  idOf,
  selected,
  onSelect,
  onKey,
  empty,
  onTally,
  picks,
  onDrop,
  evidenceOf,
}: {
  /** What the table lists; its columns are remembered by it. */
  name: Root;
  /** What is asked for, apart from the rows' range; another query starts at the top. */
  query: object;
  read: (range: RowRange) => Promise<Page<Row>>;
  columns: Column<Row>[];
  list: ListState;
  idOf: (row: Row) => Id;
  selected: string | undefined;
  onSelect: (row: Row) => void;
  /** Keys of the screen; true where the key was used. The last one goes on to the next row. */
  onKey?: (key: string, row: Row | undefined, next: () => void) => boolean;
  empty: ReactNode;
  onTally: (tally: Schema['ListTally'] | undefined) => void;
  /** Rows picked one by one: a box before each row, Space, and Shift with a click for a run of rows. */
  picks?: Picks<Id>;
  /** Takes what is dropped on a row. */
  onDrop?: (row: Row, data: DataTransfer) => void;
  /** What the pane reads of a row: read beforehand for the rows beside the selected one, and the row that the mouse is on. */
  evidenceOf?: (row: Row) => Evidence;
}) {
  const id = useId();
  const scroller = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<number>();
  const cursor = useRef(0);
  // Keys can be quicker than the selection comes back from the address.
  const hasMoved = useRef(false);
  const asked = JSON.stringify(query);
  const pageOf = (page: number) => ({
    queryKey: keyOf(name, asked, page),
    queryFn: () => read({ Offset: page * pageSize, Limit: pageSize }),
  });
  const head = useQuery({ ...pageOf(0), placeholderData: keepPreviousData });
  const tally = head.data?.tally;
  const count = tally?.rows ?? 0;
  const rowHeight = rowHeights[usePreferences().density];
  const room = useWidth(scroller, count > 0);
  const shown = useColumns(name, columns, Math.max(0, room - besideColumns));
  const isBack = useScrollMemory(scroller, name, count > 0);
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing here needs memoizing
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    scrollPaddingStart: rowHeight,
  });
  const items = virtual.getVirtualItems();
  const first = Math.max(1, Math.floor((items[0]?.index ?? 0) / pageSize));
  const last = Math.floor((items.at(-1)?.index ?? 0) / pageSize);
  const further = Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
  const pages = useQueries({ queries: further.map(pageOf) });
  const rowAt = (index: number) => {
    const page = Math.floor(index / pageSize);
    return (page === 0 ? head.data : pages[page - first]?.data)?.rows[index % pageSize];
  };

  useEffect(() => onTally(tally), [tally, onTally]);
  const askedBefore = useRef(asked);
  useEffect(() => {
    if (askedBefore.current === asked) return;
    askedBefore.current = asked;
    cursor.current = 0;
    hasMoved.current = false;
    scroller.current?.scrollTo({ top: 0 });
  }, [asked]);
  useEffect(() => virtual.measure(), [rowHeight, virtual]);

  const isSelectedAt = (index: number) => {
    const row = rowAt(index);
    return row !== undefined && String(idOf(row)) === selected;
  };
  const place = items.find((item) => isSelectedAt(item.index))?.index;
  const beside = place === undefined || !evidenceOf ? [] : [rowAt(place + 1), rowAt(place - 1), rowAt(place + 2)];
  const pointAt = usePrefetch(beside.filter((row) => row !== undefined).map((row) => evidenceOf!(row)));

  // The row that a key moved to, until the address says so too.
  const awaited = useRef<string>(undefined);
  const restored = useRef(isBack ? selected : undefined);
  const setSelectedHere = useSeek({
    name,
    asked,
    isFilled: count > 0,
    selected,
    shownAt: place,
    read: (Find) => read({ Offset: 0, Limit: pageSize, Find }),
    found: (index, id) => {
      if (awaited.current !== undefined) return;
      cursor.current = index;
      if (id !== restored.current) virtual.scrollToIndex(index, { align: place === undefined ? 'center' : 'auto' });
      restored.current = undefined;
    },
  });

  useEffect(() => {
    if (selected === awaited.current) awaited.current = undefined;
  }, [selected]);
  const moveTo = (index: number) => {
    const target = Math.max(0, Math.min(count - 1, index));
    cursor.current = target;
    hasMoved.current = true;
    virtual.scrollToIndex(target);
    const row = rowAt(target);
    if (!row) return;
    const id = String(idOf(row));
    awaited.current = id === selected ? undefined : id;
    setSelectedHere(id);
    onSelect(row);
  };
  const lastPick = useRef(0);
  const pick = (index: number, isRun: boolean) => {
    if (!picks) return;
    const ids = new Set(picks.ids);
    const at = rowAt(index);
    if (!at) return;
    const on = !ids.has(idOf(at));
    const [from, to] = isRun ? [Math.min(lastPick.current, index), Math.max(lastPick.current, index)] : [index, index];
    for (let i = from; i <= to; i++) {
      const row = rowAt(i);
      if (row) ids[on ? 'add' : 'delete'](idOf(row));
    }
    lastPick.current = index;
    picks.set(ids);
  };
  /** Rows may have gone above the selected one since it was selected. */
  const findCursor = () => {
    if (selected === undefined || awaited.current !== undefined || isSelectedAt(cursor.current)) return;
    const near = [-1, 1, -2, 2].map((step) => cursor.current + step).find((index) => index >= 0 && isSelectedAt(index));
    if (near !== undefined) cursor.current = near;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    findCursor();
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20, Home: -count, End: count }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      moveTo(selected === undefined && !hasMoved.current ? 0 : cursor.current + step);
    } else if (picks && event.key === ' ') {
      event.preventDefault();
      pick(cursor.current, event.shiftKey);
    } else if (picks && event.key === 'Escape' && picks.ids.size > 0) {
      event.stopPropagation();
      picks.set(new Set());
    } else if (onKey?.(event.key, rowAt(cursor.current), () => moveTo(cursor.current + 1))) event.preventDefault();
  };
  if (head.isError && !head.data) return <Failed error={head.error} retry={() => void head.refetch()} />;
  if (!head.data) return <Reading />;
  if (count === 0) return <div className={styles.grid}>{empty}</div>;
  const template = {
    gridTemplateColumns: (picks ? '18px ' : '') + shown.template,
    minWidth: shown.least + besideColumns,
  };
  const widthOf = (key: string) =>
    scroller.current?.querySelector(`[data-column="${key}"]`)?.getBoundingClientRect().width ?? 0;
  return (
    <div className={styles.table}>
      <ColumnMenu columns={shown} widthOf={widthOf} />
      <div
        ref={scroller}
        className={styles.grid}
        role="grid"
        aria-label={name}
        aria-rowcount={count + 1}
        aria-colcount={shown.shown.length + (picks ? 1 : 0)}
        aria-activedescendant={place === undefined ? undefined : `${id}-${place}`}
        tabIndex={0}
        data-list
        onKeyDown={onKeyDown}
      >
        <TableHeader columns={shown} list={list} hasPicks={!!picks} style={template} />
        <div role="rowgroup" className={styles.rows} style={{ height: virtual.getTotalSize() }}>
          {items.map((item) => {
            const row = rowAt(item.index);
            const isSelected = isSelectedAt(item.index);
            return (
              <div
                key={item.index}
                id={`${id}-${item.index}`}
                role="row"
                aria-rowindex={item.index + 2}
                aria-selected={isSelected}
                className={`${styles.row}${isSelected ? ` ${styles.sel}` : ''}${over === item.index ? ` ${styles.over}` : ''}`}
                onDragOver={
                  onDrop &&
                  ((event) => {
                    event.preventDefault();
                    setOver(item.index);
                  })
                }
                onDragLeave={onDrop && (() => setOver(undefined))}
                onDrop={
                  onDrop &&
                  ((event) => {
                    event.preventDefault();
                    setOver(undefined);
                    if (row) onDrop(row, event.dataTransfer);
                  })
                }
                style={{ ...template, top: item.start, height: rowHeight }}
                onPointerEnter={evidenceOf && (() => pointAt(row && !isSelected ? evidenceOf(row) : undefined))}
                onPointerLeave={evidenceOf && (() => pointAt(undefined))}
                onClick={() => {
                  if (!row) return;
                  cursor.current = item.index;
                  setSelectedHere(String(idOf(row)));
                  onSelect(row);
                }}
              >
                {picks && (
                  <div role="gridcell">
                    {row && (
                      <input
                        type="checkbox"
                        tabIndex={-1}
                        aria-label="Pick this row"
                        checked={picks.ids.has(idOf(row))}
                        onChange={() => undefined}
                        onClick={(event) => {
                          event.stopPropagation();
                          pick(item.index, event.shiftKey);
                        }}
                      />
                    )}
                  </div>
                )}
                {shown.shown.map((column) => (
                  <div key={column.key} role="gridcell" className={column.numeric ? styles.num : undefined}>
                    {row ? column.render(row) : <div className={styles.waits} />}
                  </div>
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
