import { useState, type PointerEvent } from 'react';
import type { Column } from './DataTable';
import type { Columns } from './useColumns';
import type { ListState } from './useListState';
import styles from './table.module.css';

/** The titles of a table: sort by a click, move by dragging, resize at the right edge. */
export function TableHeader<Row>({
  columns,
  list,
  hasPicks,
  style,
}: {
  columns: Columns<Row>;
  list: ListState;
  hasPicks: boolean;
  style: React.CSSProperties;
}) {
  const [dragged, setDragged] = useState<string>();
  const sort = list.text('sort');
  const down = list.text('down') === '1';
  const sortBy = (column: Column<Row>) =>
    sort !== column.key
      ? list.set({ sort: column.key, down: column.numeric ? '1' : undefined })
      : down === !!column.numeric
        ? list.set({ down: down ? undefined : '1' })
        : list.set({ sort: undefined, down: undefined });
  const resize = (event: PointerEvent<HTMLElement>, column: Column<Row>) => {
    event.preventDefault();
    const edge = event.currentTarget;
    const width = edge.parentElement!.getBoundingClientRect().width;
    const from = event.clientX;
    edge.setPointerCapture(event.pointerId);
    const move = (at: globalThis.PointerEvent) => columns.resize(column.key, width + at.clientX - from);
    edge.addEventListener('pointermove', move);
    edge.addEventListener('pointerup', () => edge.removeEventListener('pointermove', move), { once: true });
  };
  return (
    <div className={styles.header} role="row" aria-rowindex={1} style={style}>
      {hasPicks && <div role="columnheader" aria-label="Picked" />}
      {columns.shown.map((column) => (
        <div
          key={column.key}
          role="columnheader"
          data-column={column.key}
          aria-label={column.title || column.name ? undefined : column.key}
          className={column.numeric ? styles.num : undefined}
          aria-sort={sort === column.key ? (down ? 'descending' : 'ascending') : undefined}
          onDragOver={(event) => dragged && event.preventDefault()}
          onDrop={(event) => {
            if (!dragged || dragged === column.key) return;
            event.preventDefault();
            columns.moveBefore(dragged, column.key);
            setDragged(undefined);
          }}
        >
          {column.sorts === false ? (
            <span
              title={column.name ?? column.title}
              draggable
              onDragStart={() => setDragged(column.key)}
              onDragEnd={() => setDragged(undefined)}
            >
              {column.title}
            </span>
          ) : (
            <button
              title={`Sort by ${(column.name ?? column.title).toLowerCase()}`}
              draggable
              onDragStart={() => setDragged(column.key)}
              onDragEnd={() => setDragged(undefined)}
              onClick={() => sortBy(column)}
            >
              {column.title}
              {sort === column.key && (down ? ' ↓' : ' ↑')}
            </button>
          )}
          <span className={styles.edge} aria-hidden onPointerDown={(event) => resize(event, column)} />
        </div>
      ))}
    </div>
  );
}
