import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { tell, useLastAction } from '../app/lastAction';
import { api, ApiError } from './client';
import { useActiveJobs, useChange, useFormChange, useJob, useJobEvents } from './hooks';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
  tell(undefined);
});

/** What the tally bar would say. */
const Told = () => <p>{useLastAction()?.text}</p>;

const Around = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>
    {children}
    <Told />
  </QueryClientProvider>
);

const refusal = new ApiError('There is no page 7.', 'pageId');

describe('a change that is refused for a field', () => {
  it('is told on screens that show no fields', async () => {
    const { result } = renderHook(() => useChange(() => Promise.reject<string>(refusal)), { wrapper: Around });
    act(() => result.current.mutate(undefined));
    expect(await screen.findByText('There is no page 7.')).toBeTruthy();
  });

  it('is left to the form that shows it beside the field', async () => {
    const { result } = renderHook(() => useFormChange(() => Promise.reject<string>(refusal)), { wrapper: Around });
    act(() => result.current.mutate(undefined));
    await waitFor(() => expect(result.current.isError).toBe(true));
    expect(screen.queryByText('There is no page 7.')).toBeNull();
  });

  it('without a field is shown by forms too', async () => {
    const { result } = renderHook(
      () => useFormChange(() => Promise.reject<string>(new ApiError('Something is wrong.'))),
      { wrapper: Around },
    );
    act(() => result.current.mutate(undefined));
    expect(await screen.findByText('Something is wrong.')).toBeTruthy();
  });
});

describe('the jobs that are under way', () => {
  const job = { id: 7, kind: 'import', label: 'Importing', state: 'running', message: '', canResume: false };

  /** Events as the server would send them, and an answer about active jobs that can be held back. */
  const server = () => {
    let tell: (event: MessageEvent<string>) => void = () => undefined;
    let answerNow: () => void = () => undefined;
    vi.stubGlobal(
      'EventSource',
      class {
        addEventListener = (_: string, listener: typeof tell) => (tell = listener);
        close = () => undefined;
      },
    );
    const get = vi.spyOn(api, 'GET').mockImplementation(
      (() =>
        new Promise((resolve) => {
          answerNow = () => resolve({ data: [job], response: new Response() });
        })) as never,
    );
    return {
      get,
      tell: (ended: number, jobs: object[]) =>
        act(() => tell(new MessageEvent('jobs', { data: JSON.stringify({ ended, jobs }) }))),
      answer: () => act(async () => answerNow()),
    };
  };
  const useBoth = () => {
    useJobEvents();
    return { jobs: useActiveJobs(), change: useChange(() => Promise.resolve('')) };
  };

  it('are not brought back by an answer that was asked for before the last event', async () => {
    const { tell, answer } = server();
    const { result } = renderHook(useBoth, { wrapper: Around });
    tell(0, [job]);
    await waitFor(() => expect(result.current.jobs).toHaveLength(1));
    tell(1, []);
    await waitFor(() => expect(result.current.jobs).toEqual([]));
    await answer();
    expect(result.current.jobs).toEqual([]);
  });

  it('end on screen, though the first answer about one is older than its end', async () => {
    const { get, tell } = server();
    const answers: ((state: string) => void)[] = [];
    get.mockImplementation(
      (() =>
        new Promise((resolve) => {
          answers.push((state) => resolve({ data: { ...job, state }, response: new Response() }));
        })) as never,
    );
    const { result } = renderHook(
      () => {
        useJobEvents();
        return useJob(7).data;
      },
      { wrapper: Around },
    );
    tell(0, []);
    await waitFor(() => expect(answers.length).toBeGreaterThan(0));
    const asked = answers.length;
    tell(1, []);
    await act(async () => answers.slice(0, asked).forEach((answer) => answer('running')));
    await waitFor(() => expect(answers.length).toBeGreaterThan(asked));
    await act(async () => answers.at(-1)!('done'));
    await waitFor(() => expect(result.current?.state).toBe('done'));
  });

  it('are not asked for again after a change', async () => {
    const { get, tell } = server();
    const { result } = renderHook(useBoth, { wrapper: Around });
    tell(0, []);
    const before = get.mock.calls.length;
    act(() => result.current.change.mutate(undefined));
    await waitFor(() => expect(result.current.change.isSuccess).toBe(true));
    expect(get.mock.calls.length).toBe(before);
  });
});
