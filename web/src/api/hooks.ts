import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { tell } from '../app/lastAction';
import { fileUrl, isProjectsPage } from './base';
import { take } from './changed';
import { tellOfOthers } from '../team/others';
import { session, useSession } from '../team/session';
import { answer, api, ApiError, loadSession, windowId, type Schema } from './client';
import { isTouched, jobsKey, keyOf, type Area } from './keys';

/** The project with its track. */
export const useProject = () =>
  useQuery({
    queryKey: keyOf('project'),
    queryFn: () => answer(api.GET('/api/project')),
    staleTime: 2_000,
    enabled: !isProjectsPage,
  });

/**
 * Reads again what reads something that was changed. Answers still on their way may be outdated, so they are cancelled.
 * Jobs are left out: only events update them, and an earlier answer that arrives late would overwrite them.
 */
async function readAgain(queries: QueryClient, changed: ReadonlySet<Area> | undefined) {
  const touched = { predicate: (query: { queryKey: readonly unknown[] }) => isTouched(query.queryKey, changed) };
  await queries.cancelQueries(touched);
  await queries.invalidateQueries(touched);
}

/**
 * Listens to what the server says of its jobs and of changes in other windows, and reads again what they touched; everything when a job ends, or when the
 * server was out of reach meanwhile. Once in the shell.
 */
export function useServerEvents() {
  const queries = useQueryClient();
  const { hasSignIn, user } = useSession();
  const isIn = !hasSignIn || user !== null;
  useEffect(() => {
    if (!isIn) return;
    const events = new EventSource(fileUrl('/api/jobs/events'));
    let before: number | undefined;
    let running: Schema['JobView'][] = [];
    let wasOpen = false;
    events.addEventListener('open', () => {
      if (wasOpen) void readAgain(queries, undefined);
      wasOpen = true;
    });
    // It tries again by itself but where it is refused.
    events.addEventListener('error', () => {
      if (events.readyState === EventSource.CLOSED) void loadSession().catch(() => undefined);
    });
    events.addEventListener('change', (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as { areas: Area[]; says: string; author: string; window: string };
      if (told.window === windowId) return;
      void readAgain(queries, new Set(told.areas));
      if (told.says) tellOfOthers(told);
    });
    events.addEventListener('jobs', (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as { ended: number; jobs: Schema['JobView'][] };
      void queries.cancelQueries({ queryKey: jobsKey });
      queries.setQueryData(jobsKey, told.jobs);
      if (before !== undefined && before !== told.ended) {
        void readAgain(queries, undefined);
        const over = running.filter((job) => !told.jobs.some((j) => j.id === job.id));
        const elsewhere = over.find((job) => !onScreen.has(job.id));
        if (elsewhere) void tellEnd(elsewhere.id);
      }
      running = told.jobs;
      before = told.ended;
    });
    return () => events.close();
  }, [queries, isIn]);
}

/** Jobs whose progress is on screen. */
const onScreen = new Set<number>();

/** Says that a job's progress is on screen, so that its end is not announced as well. */
export function useShownJob(id: number) {
  useEffect(() => {
    onScreen.add(id);
    return () => void onScreen.delete(id);
  }, [id]);
}

/** Whose job it is, where it is somebody else's. */
const others = ({ author }: Schema['JobView']) => (author && author !== session().user?.name ? `${author}: ` : '');

/** Says in the tally bar that a job is over, whatever screen is shown. */
async function tellEnd(id: number) {
  const job = await answer(api.GET('/api/jobs/{id}', { params: { path: { id } } })).catch(() => undefined);
  if (job && hasEnded(job))
    tell({
      text: `${others(job)}${job.label}: ${job.message || `${job.state}.`}`,
      isError: job.state === 'failed',
      link: job.stage || undefined,
    });
}

/** Jobs that wait or run, as the server last said. */
export const useActiveJobs = () =>
  useQuery({ queryKey: jobsKey, queryFn: () => answer(api.GET('/api/jobs/active')), staleTime: Infinity }).data ?? [];

/** One job: as the events say while it runs, read once when it has ended. */
export function useJob(id: number | undefined) {
  const running = useActiveJobs().find((job) => job.id === id);
  const job = useQuery({
    queryKey: keyOf('job', id),
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

let last: Promise<unknown> = Promise.resolve();

/**
 * Changes reach the server in the order in which they were made, however quickly; so an undo takes back the one before it.
 * One that waits for another inside would wait forever.
 */
function inTurn<TAnswer>(change: () => Promise<TAnswer>): Promise<TAnswer> {
  const turn = last.then(change, change);
  last = turn.catch(() => undefined);
  return turn;
}

function useMutated<TInput, TAnswer>(
  change: (input: TInput) => Promise<TAnswer>,
  done: ((answer: TAnswer) => string | undefined) | undefined,
  showsFields: boolean,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (input: TInput) => inTurn(() => change(input)),
    onSuccess: async (result) => {
      const { areas, step } = take();
      const says = done?.(result);
      if (says) tell({ text: says, isError: false, step });
      await readAgain(queries, areas);
    },
    onError: (error) => {
      take();
      const isShown = showsFields && error instanceof ApiError && error.field !== undefined;
      if (!isShown) tell({ text: error.message, isError: true });
      // What another window changed is shown as it is now.
      if (error instanceof ApiError && error.isStale) void readAgain(queries, undefined);
    },
  });
}

/** Undo and redo. */
export const useReplay = (which: 'undo' | 'redo') =>
  useMutated<undefined, Schema['UndoneView']>(
    () => answer(api.POST(which === 'undo' ? '/api/undo' : '/api/redo')),
    (result) => (result.label ? `${which === 'undo' ? 'Undone' : 'Redone'}: ${result.label}` : `Nothing to ${which}.`),
    false,
  );
