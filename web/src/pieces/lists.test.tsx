import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, renderHook, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '../api/client';
import { AboutList } from './AboutList';
import { useListState } from './useListState';
import { usePane } from './usePane';
import { usePicks } from './usePicks';

const answers: Record<string, unknown> = {
  '/api/clusters/summary': {
    distributions: [
      {
        title: 'Coverage',
        unit: 'searches a month',
        shares: [
          { says: 'covered', count: 90, worth: 178140, filter: { mark: 'covered' } },
          { says: 'uncovered', count: 45, worth: 56890, filter: { mark: 'uncovered' } },
        ],
      },
      { title: 'Size', unit: '', shares: [{ says: '1', count: 2, worth: 0, filter: { minSize: '1', maxSize: '1' } }] },
      { title: 'Nothing', unit: '', shares: [] },
    ],
  },
  '/api/overview': {
    next: [
      {
        stage: 'results',
        title: 'Capture results of 36 keywords',
        detail: 'first',
        worth: 1510,
        worthUnit: 'searches',
      },
      { stage: 'clusters', title: 'Group 7 keywords', detail: 'captured', worth: null, worthUnit: '' },
    ],
  },
  '/api/history': [
    { id: 2, label: 'Rename “dry suit”', madeAt: '2026-11-29T10:00:00Z', isUndone: false },
    { id: 1, label: 'Split it', madeAt: '2026-11-29T09:00:00Z', isUndone: true },
  ],
};

beforeEach(() => {
  vi.spyOn(api, 'GET').mockImplementation(((path: string) =>
    Promise.resolve(
      path in answers
        ? { data: answers[path], response: new Response() }
        : { error: { detail: 'The disk is full.' }, response: new Response(null, { status: 507 }) },
    )) as never);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const around = (at: string) =>
  function Around({ children }: { children: ReactNode }) {
    return (
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <MemoryRouter initialEntries={[at]}>{children}</MemoryRouter>
      </QueryClientProvider>
    );
  };

const Where = () => <output aria-label="where">{useLocation().search}</output>;
function About({ of = 'clusters' }: { of?: 'clusters' | 'pages' }) {
  return (
    <>
      <AboutList of={of} list={useListState()} names={{ mark: 'mark' }} />
      <Where />
    </>
  );
}

describe('what is worth knowing of a list', () => {
  it('is what next here, how its rows are spread, and what was done', async () => {
    render(<About />, { wrapper: around('/clusters') });
    expect(await screen.findByText('Group 7 keywords')).toBeTruthy();
    expect(screen.queryByText(/Capture results/)).toBeNull();
    expect(screen.getByText('178,140')).toBeTruthy();
    expect(await screen.findByText(/Rename/)).toBeTruthy();
    expect(screen.queryByText('Split it')).toBeNull();
    expect(screen.queryByText('Nothing')).toBeNull();
  });

  it('shows the rows of a share alone by a click, where the list has such a condition', async () => {
    render(<About />, { wrapper: around('/clusters?sort=name') });
    fireEvent.click(await screen.findByRole('button', { name: 'uncovered' }));
    expect(screen.getByLabelText('where').textContent).toBe('?sort=name&mark=uncovered');
    expect(screen.queryByRole('button', { name: '1' })).toBeNull();
  });

  it('names the first thing elsewhere where nothing is left here', async () => {
    render(<About />, { wrapper: around('/briefs') });
    expect((await screen.findByRole('link', { name: /Capture results/ })).getAttribute('href')).toBe('/results');
  });

  it('says what went wrong', async () => {
    render(<About of="pages" />, { wrapper: around('/site') });
    expect((await screen.findByRole('alert')).textContent).toContain('The disk is full.');
  });
});

describe('the pane that is open', () => {
  const hook = (at: string) =>
    renderHook(() => ({ pane: usePane(useListState(), ['import', 'lists']), where: useLocation().search }), {
      wrapper: around(at),
    }).result;

  it('is in the address', () => {
    const result = hook('/keywords?pane=lists&id=3');
    expect(result.current.pane.shown).toBe('lists');
    act(() => result.current.pane.open('import'));
    expect(result.current.where).toBe('?pane=import&id=3');
    act(() => result.current.pane.close());
    expect(result.current.where).toBe('?id=3');
  });

  it('is none where the screen has no such pane', () => {
    expect(hook('/keywords?pane=regroup').current.pane.shown).toBeUndefined();
  });
});

describe('picked rows', () => {
  const hook = (at: string) =>
    renderHook(() => ({ picks: usePicks(useListState(), Number), where: useLocation().search }), {
      wrapper: around(at),
    }).result;

  it('are those that a link names, until others are picked', () => {
    const result = hook('/keywords?picked=3,5&minVolume=10');
    expect([...result.current.picks.ids]).toEqual([3, 5]);
    act(() => result.current.picks.set(new Set([3])));
    expect([...result.current.picks.ids]).toEqual([3]);
    expect(result.current.where).toBe('?minVolume=10');
  });

  it('can be cleared', () => {
    const result = hook('/keywords?picked=3');
    act(() => result.current.picks.clear());
    expect(result.current.picks.ids.size).toBe(0);
    expect(result.current.where).toBe('');
  });
});
