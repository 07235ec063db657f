import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useEffect } from 'react';
import { answer, api, ApiError, type Schema } from './client';

/** The project with its track. */
export const useProject = () =>
  useQuery({ queryKey: ['project'], queryFn: () => answer(api.GET('/api/project')), staleTime: 2_000 });

const jobsKey = ['jobs'];

/** Everything on screen except the jobs, which only events update: an earlier answer that arrives late would overwrite them. */
const otherThanJobs = { predicate: (query: { queryKey: readonly unknown[] }) => query.queryKey[0] !== jobsKey[0] };

/** Reads all of it again. Answers still on their way may be outdated, so they are cancelled. */
async function readAgain(queries: QueryClient) {
  await queries.cancelQueries(otherThanJobs);
  await queries.invalidateQueries(otherThanJobs);
}

/** Listens to what the server says of its jobs, and reads everything on screen again when one ends. Once in the shell. */
export function useJobEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const events = new EventSource('/api/jobs/events');
    let before: number | undefined;
    events.addEventListener('jobs', (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as { ended: number; jobs: Schema['JobView'][] };
      void queries.cancelQueries({ queryKey: jobsKey });
      queries.setQueryData(jobsKey, told.jobs);
      if (before !== undefined && before !== told.ended) void readAgain(queries);
      before = told.ended;
    });
    return () => events.close();
  }, [queries]);
}

/** Jobs that wait or run, as the server last said. */
export const useActiveJobs = () =>
  useQuery({ queryKey: jobsKey, queryFn: () => answer(api.GET('/api/jobs/active')), staleTime: Infinity }).data ?? [];

/** One job: as the events say while it runs, read once when it has ended. */
export function useJob(id: number | undefined) {
  const running = useActiveJobs().find((job) => job.id === id);
  const job = useQuery({
    queryKey: ['job', id],
    enabled: id !== undefined,
    queryFn: () => answer(api.GET('/api/jobs/{id}', { params: { path: { id: id! } } })),
    staleTime: 0,
  });
  return { data: running ?? job.data };
}

export const hasEnded = (job: Schema['JobView'] | undefined) =>
  job !== undefined && ['done', 'failed', 'stopped', 'paused'].includes(job.state);

/** A change: tells what went wrong, and reads everything on screen again when it went well. */
export const useChange = <TInput, TAnswer>(
  change: (input: TInput) => Promise<TAnswer>,
  done?: (answer: TAnswer) => string | undefined,
) => useMutated(change, done, false);

/** A change made by a form, which itself shows the errors that name a field. */
export const useFormChange = <TInput, TAnswer>(
  change: (input: TInput) => Promise<TAnswer>,
  done?: (answer: TAnswer) => string | undefined,
) => useMutated(change, done, true);

function useMutated<TInput, TAnswer>(
  change: (input: TInput) => Promise<TAnswer>,
  done: ((answer: TAnswer) => string | undefined) | undefined,
  showsFields: boolean,
) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: change,
    onSuccess: async (result) => {
      await readAgain(queries);
      const says = done?.(result);
      if (says) void message.success(says);
    },
    onError: (error) => {
      const isShown = showsFields && error instanceof ApiError && error.field !== undefined;
      if (!isShown) void message.error(error.message, 6);
      // What another window changed is shown as it is now.
      if (error instanceof ApiError && error.isStale) void readAgain(queries);
    },
  });
}

/** Undo and redo. */
export const useReplay = (which: 'undo' | 'redo') =>
  useChange(
    () => answer(api.POST(which === 'undo' ? '/api/undo' : '/api/redo')),
    (result) => (result.label ? `${which === 'undo' ? 'Undone' : 'Redone'}: ${result.label}` : `Nothing to ${which}.`),
  );
