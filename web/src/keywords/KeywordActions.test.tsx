import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { useListState } from '../pieces/useListState';
import { press, sent, serve, show, told, write } from '../testing';
import { KeywordActions } from './KeywordActions';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const picked = { ids: [1, 2] } as unknown as Schema['KeywordSelection'];
const everything = { filter: {} } as unknown as Schema['KeywordSelection'];
const lists = [
  { id: 5, name: 'Suits', keywords: 12, notes: '' },
  { id: 6, name: 'Paddles', keywords: 3, notes: '' },
];

function actions(selection: Schema['KeywordSelection'], count: number, at = '/keywords') {
  const clear = vi.fn();
  const capture = vi.fn();
  const asked = serve({
    'GET /api/lists': lists,
    'GET /api/keywords/sources': [],
    'POST /api/lists': { id: 7, name: 'To look at', keywords: count || 40 },
    'POST /api/lists/{id}/add': { count: 1 },
    'POST /api/lists/{id}/remove': { count: 2 },
    'POST /api/keywords/remove': { count: 2 },
    'POST /api/keywords/decline': { count: 2 },
    'POST /api/keywords/take-back': { count: 2 },
    'POST /api/keywords/gather': { id: 9 },
  });
  const Actions = () => (
    <KeywordActions
      selection={selection}
      picked={count}
      inView={40}
      list={useListState()}
      capture={capture}
      clear={clear}
      exportHref="/api/keywords.csv"
    />
  );
  show(<Actions />, { at });
  return { asked, clear, capture };
}

describe('what is done with keywords', () => {
  it('says whether it is about all in view or those picked', async () => {
    actions(everything, 0);
    expect(await screen.findByText(/in view:/)).toBeTruthy();
    expect(screen.queryByText('clear selection')).toBeNull();
    cleanup();
    actions(picked, 2);
    expect(await screen.findByText(/picked:/)).toBeTruthy();
    expect(screen.getByText('clear selection')).toBeTruthy();
  });

  it('adds them to a list that is chosen', async () => {
    const { asked, clear } = actions(picked, 2);
    await press('add to a list');
    fireEvent.click(await screen.findByText('Paddles (3)'));
    await waitFor(() => expect(told()).toBe('1 keyword added to the list.'));
    expect(sent(asked)[0]).toMatchObject({ what: 'POST /api/lists/{id}/add', path: { id: 6 }, body: picked });
    // They may be wanted for something else.
    expect(clear).not.toHaveBeenCalled();
  });

  it('makes a list of all in view', async () => {
    const { asked } = actions(everything, 0);
    await press('make a list');
    write('Name of the new list', 'To look at');
    await press('Make');
    await waitFor(() => expect(told()).toBe('The list “To look at” has 40 keywords.'));
    expect(sent(asked)[0]!.body).toEqual({ name: 'To look at', notes: null, selection: everything });
  });

  it('takes them out of the list that is shown, and no other', async () => {
    const { asked, clear } = actions(picked, 2, '/keywords?listId=5');
    await press('take out of “Suits”');
    await waitFor(() => expect(told()).toBe('2 keywords taken out of the list.'));
    expect(sent(asked)[0]).toMatchObject({ path: { id: 5 }, body: picked });
    expect(clear).toHaveBeenCalled();
    cleanup();
    actions(picked, 2);
    await screen.findByText(/picked:/);
    expect(screen.queryByText(/take out of “/)).toBeNull();
  });

  it('takes them out of the project only after asking', async () => {
    const { asked, clear } = actions(picked, 2);
    await press('take out of the project');
    const ask = await screen.findByRole('tooltip');
    expect(ask.textContent).toContain('Take 2 keywords out of the project?');
    expect(sent(asked)).toEqual([]);
    fireEvent.click(within(ask).getByRole('button', { name: 'Take out' }));
    await waitFor(() => expect(told()).toBe('2 keywords taken out of the project.'));
    expect(sent(asked)).toMatchObject([{ what: 'POST /api/keywords/remove', body: picked }]);
    expect(clear).toHaveBeenCalled();
  });

  it('declines them with a reason', async () => {
    const { asked, clear } = actions(picked, 2);
    await press('decline…');
    write('Why they are not wanted', 'another brand');
    await press('Decline');
    await waitFor(() => expect(told()).toBe('2 keywords declined.'));
    expect(sent(asked)[0]!.body).toEqual({ selection: picked, reason: 'another brand' });
    expect(clear).toHaveBeenCalled();
  });

  it('takes declined ones back where these are shown', async () => {
    const { asked } = actions(picked, 2, '/keywords?progress=declined');
    await press('take back');
    await waitFor(() => expect(told()).toContain('2 keywords taken back.'));
    expect(sent(asked)[0]!.what).toBe('POST /api/keywords/take-back');
  });

  it('asks the services for numbers of them, and opens a capture', async () => {
    const { asked, capture } = actions(picked, 2);
    await press('fetch numbers');
    await waitFor(() => expect(sent(asked)[0]!.body).toMatchObject({ from: 'numbers', selection: picked, add: true }));
    await press('capture results…');
    expect(capture).toHaveBeenCalled();
  });
});
