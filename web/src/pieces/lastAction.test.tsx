import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter, useNavigate } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '../api/client';
import { keyOf } from '../api/keys';
import { tell } from '../app/lastAction';
import { CopyLink } from './CopyLink';
import { LastActionLine } from './LastActionLine';

beforeEach(() => {
  vi.spyOn(api, 'GET').mockImplementation((() => new Promise(() => undefined)) as never);
});
afterEach(() => {
  cleanup();
  act(() => tell(undefined));
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const Away = () => {
  const navigate = useNavigate();
  return (
    <>
      <button onClick={() => void navigate('/plan')}>away</button>
      <button onClick={() => void navigate('/clusters')}>back</button>
    </>
  );
};

function shown(undo: string | null = null, picked?: ReadonlySet<number>, at = '/clusters?id=2') {
  const queries = new QueryClient();
  queries.setQueryData(keyOf('project'), { undo });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[at]}>
        <LastActionLine />
        <CopyLink picked={picked} />
        <Away />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

describe('the last action', () => {
  it('has its undo beside it', async () => {
    const post = vi
      .spyOn(api, 'POST')
      .mockResolvedValue({ data: { label: 'Rename' }, response: new Response() } as never);
    shown('Rename');
    act(() => tell({ text: 'Renamed.', isError: false, step: 'Rename' }));
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(post).toHaveBeenCalledWith('/api/undo'));
    expect(await screen.findByText('Undone: Rename')).toBeTruthy();
  });

  it('has none where something else was done since, or nothing was recorded', () => {
    shown('Another step');
    act(() => tell({ text: 'Renamed.', isError: false, step: 'Rename' }));
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
    act(() => tell({ text: 'Link copied.', isError: false }));
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
  });

  it('stays behind on its stage, but what went wrong stays until it is closed', () => {
    shown();
    act(() => tell({ text: 'Renamed.', isError: false }));
    fireEvent.click(screen.getByText('away'));
    expect(screen.queryByText('Renamed.')).toBeNull();
    act(() => tell({ text: 'There is no page 7.', isError: true }));
    fireEvent.click(screen.getByText('back'));
    expect(screen.getByRole('alert').textContent).toContain('There is no page 7.');
    fireEvent.click(screen.getByRole('button', { name: 'Close this message' }));
    expect(screen.queryByText('There is no page 7.')).toBeNull();
  });

  it('of a job elsewhere leads to what it brought', () => {
    shown();
    act(() => tell({ text: 'Import: 4 new.', isError: false, link: 'site' }));
    expect(screen.getByRole('link', { name: 'Open' }).getAttribute('href')).toBe('/site');
    act(() => tell({ text: 'Grouped.', isError: false, link: 'clusters' }));
    expect(screen.queryByRole('link', { name: 'Open' })).toBeNull();
  });
});

describe('a link', () => {
  const copied = (writeText: (text: string) => Promise<void>) =>
    vi.stubGlobal('navigator', { ...navigator, clipboard: { writeText } });

  it('has what is shown, selected and picked', async () => {
    const write = vi.fn(() => Promise.resolve());
    copied(write);
    shown(null, new Set([3, 5]));
    fireEvent.click(screen.getByRole('button', { name: 'Copy link' }));
    expect(await screen.findByText('Link copied.')).toBeTruthy();
    expect(write).toHaveBeenCalledWith(`${location.origin}/clusters?id=2&picked=3%2C5`);
  });

  it('says so where more is picked than it can hold', async () => {
    const write = vi.fn(() => Promise.resolve());
    copied(write);
    shown(null, new Set(Array.from({ length: 201 }, (_, i) => i)));
    fireEvent.click(screen.getByRole('button', { name: 'Copy link' }));
    expect(await screen.findByText(/without the 201 picked rows/)).toBeTruthy();
    expect(write).toHaveBeenCalledWith(`${location.origin}/clusters?id=2`);
  });

  it('is refused in words where the browser refuses', async () => {
    copied(() => Promise.reject(new Error('denied')));
    shown();
    fireEvent.click(screen.getByRole('button', { name: 'Copy link' }));
    expect(await screen.findByText(/does not allow copying/)).toBeTruthy();
  });
});
