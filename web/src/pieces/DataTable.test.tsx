import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { DataTable, type Column } from './DataTable';
import type { ListState } from './useListState';

interface Row {
  id: number;
  name: string;
}

const all: Row[] = Array.from({ length: 250 }, (_, i) => ({ id: i + 1, name: `row ${i + 1}` }));
const columns: Column<Row>[] = [
  { key: 'name', title: 'Name', width: '1fr', render: (r) => r.name },
  { key: 'id', title: 'Number', width: '80px', numeric: true, render: (r) => r.id },
  { key: 'fixed', title: 'Fixed', width: '80px', sorts: false, render: () => 'x' },
];

/** What a screen would do with the table. */
function Screen({
  list,
  onKey,
  rows = all,
  isSlow = false,
  evidence,
  at,
}: {
  list: ListState;
  onKey?: (key: string, row?: Row) => boolean;
  rows?: Row[];
  /** What is selected comes through the address, later than the next key. */
  isSlow?: boolean;
  /** Reads what a pane would show of a row. */
  evidence?: (id: number) => Promise<unknown>;
  /** What is selected from the start, as by a link. */
  at?: string;
}) {
  const [selected, setSelected] = useState(at);
  const [ids, setIds] = useState<ReadonlySet<number>>(new Set());
  return (
    <>
      <DataTable<Row>
        name="clusters"
        query={{}}
        read={({ Offset, Limit, Find }) => {
          return Promise.resolve({
            rows: rows.slice(Offset, Offset + Limit),
            tally: {
              rows: rows.length,
              place: Find && Number(Find) <= rows.length ? Number(Find) - 1 : null,
            } as Partial<Schema['ListTally']> as Schema['ListTally'],
          });
        }}
        columns={columns}
        list={list}
        idOf={(row) => row.id}
        selected={selected}
        onSelect={(row) => (isSlow ? setTimeout(() => setSelected(String(row.id)), 30) : setSelected(String(row.id)))}
        onKey={(key, row, next) => {
          const used = onKey?.(key, row) ?? false;
          if (used) next();
          return used;
        }}
        empty={<p>none</p>}
        onTally={() => undefined}
        picks={{ ids, set: setIds }}
        evidenceOf={evidence && ((row) => ({ queryKey: ['evidence', row.id], queryFn: () => evidence(row.id) }))}
      />
      <button onClick={() => setSelected('150')}>elsewhere</button>
      <output>
        {selected ?? 'nothing'}; {[...ids].sort((a, b) => a - b).join(' ')}
      </output>
    </>
  );
}

function listState(values: Record<string, string> = {}) {
  const set = vi.fn();
  return { state: { text: (key: string) => values[key], set } as unknown as ListState, set };
}

/** Each test comes to the table for the first time. */
let entries = 0;

async function shown(props: Partial<Parameters<typeof Screen>[0]> = {}) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[{ key: `entry ${++entries}` }]}>
        <Screen list={listState().state} {...props} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  if (props.at === undefined) await screen.findByText('row 1');
  return screen.findByRole('grid', { name: 'clusters' });
}

const press = (grid: HTMLElement, key: string, more: object = {}) =>
  act(() => void fireEvent.keyDown(grid, { key, ...more }));
const says = () => screen.getByRole('status').textContent;

describe('a table', () => {
  beforeEach(() => {
    // jsdom lays nothing out.
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(600);
    vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(800);
    HTMLElement.prototype.scrollTo = () => undefined;
  });
  afterEach(() => {
    cleanup();
    vi.restoreAllMocks();
  });

  it('draws only what is in sight, and says how many rows there are', async () => {
    const grid = await shown();
    expect(grid.getAttribute('aria-rowcount')).toBe('251');
    expect(within(grid).getAllByRole('row').length).toBeLessThan(60);
    expect(within(grid).getByText('row 1')).toBeTruthy();
  });

  it('reads the evidence of the rows beside the selected one beforehand, and of the row that the mouse stays on', async () => {
    const evidence = vi.fn((id: number) => Promise.resolve(id));
    const grid = await shown({ evidence });
    expect(evidence).not.toHaveBeenCalled();
    fireEvent.click(within(grid).getByText('row 3'));
    await waitFor(() => expect(evidence.mock.calls.map(([id]) => id)).toEqual([4, 2, 5]));
    evidence.mockClear();
    const row = (name: string) => within(grid).getByText(name).closest('[role=row]')!;
    // On its way to row 9 the mouse passes row 8.
    fireEvent.pointerEnter(row('row 8'));
    fireEvent.pointerEnter(row('row 9'));
    await waitFor(() => expect(evidence.mock.calls).toEqual([[9]]));
    fireEvent.pointerEnter(row('row 10'));
    fireEvent.pointerLeave(row('row 10'));
    fireEvent.pointerEnter(row('row 3'));
    await new Promise((resolve) => setTimeout(resolve, 80));
    expect(evidence.mock.calls).toEqual([[9]]);
  });

  it('moves by keys, and tells which row is the active one', async () => {
    const grid = await shown();
    press(grid, 'ArrowDown');
    expect(says()).toBe('1; ');
    press(grid, 'ArrowDown');
    press(grid, 'ArrowDown');
    press(grid, 'ArrowUp');
    expect(says()).toBe('2; ');
    const active = document.getElementById(grid.getAttribute('aria-activedescendant')!)!;
    expect(active.getAttribute('aria-selected')).toBe('true');
    expect(active.textContent).toContain('row 2');
    press(grid, 'ArrowUp');
    press(grid, 'ArrowUp');
    expect(says()).toBe('1; ');
    press(grid, 'PageDown');
    expect(says()).toBe('21; ');
    press(grid, 'Home');
    expect(says()).toBe('1; ');
  });

  it('leaves keys with Ctrl to the browser', async () => {
    const grid = await shown();
    press(grid, 'ArrowDown', { ctrlKey: true });
    expect(says()).toBe('nothing; ');
  });

  it('picks rows by Space, a run of them with Shift, and clears them by Escape', async () => {
    const grid = await shown();
    press(grid, 'ArrowDown');
    press(grid, 'ArrowDown');
    press(grid, ' ');
    press(grid, 'ArrowDown');
    press(grid, 'ArrowDown');
    press(grid, ' ', { shiftKey: true });
    expect(says()).toBe('4; 2 3 4');
    press(grid, ' ');
    expect(says()).toBe('4; 2 3');
    press(grid, 'Escape');
    expect(says()).toBe('4; ');
  });

  it('loses no pick where keys are quicker than the address', async () => {
    const grid = await shown({ isSlow: true });
    for (const key of ['ArrowDown', ' ', 'ArrowDown', ' ', 'ArrowDown', ' ']) {
      fireEvent.keyDown(grid, { key });
      // Sometimes the address catches up with a row that was left meanwhile.
      await act(() => new Promise((resolve) => setTimeout(resolve, 20)));
    }
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('3; 1 2 3'));
  });

  it('picks a run of rows by a click with Shift, in either direction', async () => {
    const grid = await shown();
    const box = (row: number) =>
      within(within(grid).getByText(`row ${row}`).closest('[role=row]')!).getByRole('checkbox');
    act(() => box(6).click());
    act(() => void fireEvent.click(box(3), { shiftKey: true }));
    expect(says()).toBe('nothing; 3 4 5 6');
  });

  it('gives other keys to the screen, which may go on to the next row', async () => {
    const onKey = vi.fn((key: string) => key === 'a');
    const grid = await shown({ onKey });
    press(grid, 'ArrowDown');
    press(grid, 'a');
    expect(onKey).toHaveBeenLastCalledWith('a', all[0]);
    expect(says()).toBe('2; ');
    press(grid, 'z');
    expect(says()).toBe('2; ');
  });

  it('sorts numbers from the top first, then the other way, then not at all', async () => {
    for (const [values, wanted] of [
      [{}, { sort: 'id', down: '1' }],
      [{ sort: 'id', down: '1' }, { down: undefined }],
      [{ sort: 'id' }, { sort: undefined, down: undefined }],
    ] as [Record<string, string>, object][]) {
      const { state, set } = listState(values);
      const grid = await shown({ list: state });
      act(() =>
        within(grid)
          .getByRole('button', { name: /^Number/ })
          .click(),
      );
      expect(set).toHaveBeenLastCalledWith(wanted);
      cleanup();
    }
    const grid = await shown();
    expect(within(grid).queryByRole('button', { name: /Fixed/ })).toBeNull();
  });

  describe('with a row that was selected elsewhere', () => {
    beforeEach(() => {
      vi.spyOn(Element.prototype, 'scrollHeight', 'get').mockReturnValue(7_800);
      HTMLElement.prototype.scrollTo = function (this: HTMLElement, to?: ScrollToOptions | number) {
        if (typeof to !== 'object' || to.top === undefined || to.top === this.scrollTop) return;
        this.scrollTop = to.top;
        fireEvent.scroll(this);
      } as HTMLElement['scrollTo'];
    });

    it('scrolls to it and goes on from there', async () => {
      const grid = await shown({ at: '230' });
      const row = await screen.findByText('row 230');
      await waitFor(() => expect(row.closest('[role=row]')!.getAttribute('aria-selected')).toBe('true'));
      press(grid, 'ArrowDown');
      await waitFor(() => expect(says()).toBe('231; '));
    });

    it('finds the next one that is selected elsewhere', async () => {
      const grid = await shown({ at: '230' });
      await screen.findByText('row 230');
      act(() => screen.getByRole('button', { name: 'elsewhere' }).click());
      await screen.findByText('row 150');
      press(grid, 'ArrowUp');
      await waitFor(() => expect(says()).toBe('149; '));
    });

    it('stays where it is scrolled to afterwards', async () => {
      const grid = await shown({ at: '230' });
      await screen.findByText('row 230');
      act(() => grid.scrollTo({ top: 0 }));
      await screen.findByText('row 2');
      expect(screen.queryByText('row 230')).toBeNull();
    });

    it('goes on from the last key, though rows before it are selected later', async () => {
      const grid = await shown({ isSlow: true });
      // Each selection is drawn by itself, while the keys after it have long been pressed.
      for (let i = 0; i < 5; i++) {
        press(grid, i === 0 ? 'ArrowDown' : 'PageDown');
        await act(() => new Promise((later) => setTimeout(later, 10)));
      }
      await waitFor(() => expect(says()).toBe('81; '));
      press(grid, 'ArrowDown');
      await waitFor(() => expect(says()).toBe('82; '));
    });

    it('stays at the top where the list does not have it', async () => {
      const grid = await shown({ at: '900' });
      await waitFor(() => expect(grid.scrollTop).toBe(0));
      press(grid, 'ArrowDown');
      await waitFor(() => expect(says()).toBe('2; '));
    });
  });

  it('says what there is to do where nothing is there', async () => {
    const queries = new QueryClient();
    render(
      <QueryClientProvider client={queries}>
        <MemoryRouter>
          <Screen list={listState().state} rows={[]} />
        </MemoryRouter>
      </QueryClientProvider>,
    );
    expect(await screen.findByText('none')).toBeTruthy();
  });
});
