import { QueryClient, QueryClientProvider, QueryObserver } from '@tanstack/react-query';
import { act, cleanup, renderHook, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { tell, useLastAction } from '../app/lastAction';
import { tellOfOthers, useOthers } from '../team/others';
import { setSession } from '../team/session';
import { api, ApiError, listApi, windowId } from './client';
import { useActiveJobs, useChange, useFormChange, useJob, useServerEvents } from './hooks';
import { keyOf } from './keys';

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

describe('changes made quickly', () => {
  it('reach the server in their order, one that is refused among them', async () => {
    const reached: string[] = [];
    const answers: Record<string, () => void> = {};
    const change = (name: string) => {
      reached.push(name);
      return new Promise<string>((resolve, reject) => {
        answers[name] = () => (name === 'refused' ? reject(refusal) : resolve(name));
      });
    };
    const { result } = renderHook(
      () => ({ assign: useChange(change), decline: useFormChange(change), undo: useChange(change) }),
      { wrapper: Around },
    );
    act(() => {
      result.current.assign.mutate('assigned');
      result.current.decline.mutate('refused');
      result.current.undo.mutate('undone');
    });
    for (const name of ['assigned', 'refused', 'undone']) {
      await waitFor(() => expect(reached.at(-1)).toBe(name));
      act(() => answers[name]!());
    }
    await waitFor(() => expect(result.current.undo.data).toBe('undone'));
    expect(reached).toEqual(['assigned', 'refused', 'undone']);
  });
});

type Listener = (event: MessageEvent<string>) => void;

const job = { id: 7, kind: 'import', label: 'Importing', state: 'running', message: '', canResume: false };

/** Events as the server would send them, and an answer about active jobs that can be held back. */
const server = () => {
  const listeners: Record<string, Listener> = {};
  const streams: { readyState: number; isClosed: boolean }[] = [];
  let answerNow: () => void = () => undefined;
  vi.stubGlobal(
    'EventSource',
    class {
      static CLOSED = 2;
      readyState = 1;
      isClosed = false;
      constructor() {
        streams.push(this);
      }
      addEventListener = (name: string, listener: Listener) => (listeners[name] = listener);
      close = () => (this.isClosed = true);
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
      act(() => listeners.jobs!(new MessageEvent('jobs', { data: JSON.stringify({ ended, jobs }) }))),
    change: (told: object) => act(() => listeners.change!(new MessageEvent('change', { data: JSON.stringify(told) }))),
    open: () => act(() => listeners.open!(new MessageEvent('open'))),
    /** The stream fails: for good where the server refuses it. */
    fail: (readyState: number) =>
      act(async () => {
        streams.at(-1)!.readyState = readyState;
        listeners.error!(new MessageEvent('error'));
        await Promise.resolve();
      }),
    streams,
    answer: () => act(async () => answerNow()),
  };
};
describe('the jobs that are under way', () => {
  const useBoth = () => {
    useServerEvents();
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
        useServerEvents();
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

describe('what is changed in another window', () => {
  const useRead = () => {
    useServerEvents();
    return { others: useOthers() };
  };

  /** A query of keywords and one of briefs, each with how often it was read. */
  const reads = () => {
    const queries = new QueryClient();
    const read = { keywords: 0, briefs: 0 };
    for (const root of ['keywords', 'briefs'] as const)
      new QueryObserver(queries, {
        queryKey: keyOf(root),
        queryFn: () => Promise.resolve(++read[root]),
        staleTime: Infinity,
      }).subscribe(() => undefined);
    const wrapper = ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={queries}>{children}</QueryClientProvider>
    );
    return { read, wrapper };
  };

  it('is read again as far as it was touched, and said with its author', async () => {
    const { change } = server();
    const { read, wrapper } = reads();
    const { result } = renderHook(useRead, { wrapper });
    await waitFor(() => expect(read).toEqual({ keywords: 1, briefs: 1 }));
    change({ areas: ['briefs'], says: 'Change a brief', author: 'Ada', window: 'other' });
    await waitFor(() => expect(read).toEqual({ keywords: 1, briefs: 2 }));
    expect(result.current.others).toMatchObject({ author: 'Ada', says: 'Change a brief' });
  });

  it('says nothing where it has no name, or was done here', async () => {
    const { change } = server();
    const { read, wrapper } = reads();
    act(() => tellOfOthers(undefined));
    const { result } = renderHook(useRead, { wrapper });
    await waitFor(() => expect(read.keywords).toBe(1));
    change({ areas: ['keywords'], says: 'Paste keywords', author: 'Ada', window: windowId });
    change({ areas: ['briefs'], says: '', author: 'Ada', window: 'other' });
    await waitFor(() => expect(read).toEqual({ keywords: 1, briefs: 2 }));
    expect(result.current.others).toBeUndefined();
  });

  it('is read again as a whole when the server was out of reach', async () => {
    const { open } = server();
    const { read, wrapper } = reads();
    renderHook(useRead, { wrapper });
    await waitFor(() => expect(read.keywords).toBe(1));
    open();
    expect(read).toEqual({ keywords: 1, briefs: 1 });
    open();
    await waitFor(() => expect(read).toEqual({ keywords: 2, briefs: 2 }));
  });

  it('is heard again after signing in again', async () => {
    const { streams, fail } = server();
    const ada = { hasSignIn: true, user: { name: 'Ada', role: 'planner' as const }, token: 'a' };
    act(() => setSession(ada));
    const list = vi.spyOn(listApi, 'GET').mockResolvedValue({
      data: { hasSignIn: true, user: null, token: null },
      response: new Response(),
    } as never);
    renderHook(useServerEvents, { wrapper: Around });
    expect(streams).toHaveLength(1);
    // A stream that breaks off is begun again by the browser; one that is refused is not.
    await fail(0);
    expect(list).not.toHaveBeenCalled();
    await fail(2);
    await waitFor(() => expect(streams[0]!.isClosed).toBe(true));
    expect(streams).toHaveLength(1);
    act(() => setSession({ ...ada, token: 'b' }));
    expect(streams).toHaveLength(2);
    act(() => setSession({ hasSignIn: false, user: null, token: null }));
  });
});
