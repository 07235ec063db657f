import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useEffect, useRef } from 'react';
import { answer, api, ApiError, type Schema } from './client';

/** The project with its track; polled while a job runs. */
export const useProject = () =>
  useQuery({ queryKey: ['project'], queryFn: () => answer(api.GET('/api/project')), staleTime: 2_000 });

/** Jobs that wait or run. When one ends, everything on screen is read again. */
export function useActiveJobs() {
  const queries = useQueryClient();
  const before = useRef(0);
  const jobs = useQuery({
    queryKey: ['jobs'],
    queryFn: () => answer(api.GET('/api/jobs/active')),
    refetchInterval: (query) => ((query.state.data?.length ?? 0) > 0 ? 700 : 10_000),
    staleTime: 0,
  });
  const count = jobs.data?.length ?? 0;
  useEffect(() => {
    if (count < before.current) void queries.invalidateQueries();
    before.current = count;
  }, [count, queries]);
  return jobs.data ?? [];
}

/** One job until it has ended. */
export const useJob = (id: number | undefined) =>
  useQuery({
    queryKey: ['job', id],
    enabled: id !== undefined,
    queryFn: () => answer(api.GET('/api/jobs/{id}', { params: { path: { id: id! } } })),
    refetchInterval: (query) => (hasEnded(query.state.data) ? false : 400),
    staleTime: 0,
  });

export const hasEnded = (job: Schema['JobView'] | undefined) =>
  job !== undefined && ['done', 'failed', 'stopped'].includes(job.state);

/** A change: tells what went wrong, and reads everything on screen again when it went well. */
export function useChange<TInput, TAnswer>(
  change: (input: TInput) => Promise<TAnswer>,
  done?: (answer: TAnswer) => string | undefined,
) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: change,
    onSuccess: async (result) => {
      await queries.invalidateQueries();
      const says = done?.(result);
      if (says) void message.success(says);
    },
    onError: (error) => {
      if (!(error instanceof ApiError && error.field)) void message.error(error.message, 6);
    },
  });
}

/** Undo and redo. */
export const useReplay = (which: 'undo' | 'redo') =>
  useChange(
    () => answer(api.POST(which === 'undo' ? '/api/undo' : '/api/redo')),
    (result) =>
      result.label ? `${which === 'undo' ? 'Undone' : 'Done again'}: ${result.label}` : `Nothing to ${which}.`,
  );
