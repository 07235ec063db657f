import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api, type Schema } from '../api/client';
import { jobsKey } from '../api/keys';
import { jobSays, JobsMenu } from './JobsMenu';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const job = (id: number, more: Partial<Schema['JobView']> = {}): Schema['JobView'] => ({
  id,
  kind: 'capture',
  stage: 'results',
  label: `Capture ${id}`,
  state: 'running',
  author: '',
  message: '',
  createdAt: '2026-11-29T10:00:00Z',
  canResume: false,
  progress: { done: 1250, total: 5000, phase: 'Capturing', secondsLeft: 95 },
  ...more,
});

function shown(jobs: Schema['JobView'][]) {
  const queries = new QueryClient();
  queries.setQueryData(jobsKey, jobs);
  render(
    <QueryClientProvider client={queries}>
      <JobsMenu />
    </QueryClientProvider>,
  );
}

describe('a job', () => {
  it('says how far it is, and how long it will still take', () => {
    expect(jobSays(job(1))).toBe('1,250 of 5,000 · about 2 min left');
    expect(jobSays(job(1, { progress: { done: 0, total: 0, phase: 'Grouping' } }))).toBe('');
    expect(jobSays(job(1, { progress: null }))).toBe('starting');
    expect(jobSays(job(1, { progress: null, state: 'waiting' }))).toBe('waiting for the job before it');
  });
});

describe('the jobs in the top bar', () => {
  it('are not there where nothing is under way', () => {
    shown([]);
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('open with all of them, and say that work can go on', async () => {
    shown([job(1), job(2, { state: 'waiting', progress: null })]);
    fireEvent.click(screen.getByRole('button', { name: 'Jobs: Capture 1' }));
    expect(await screen.findByText('Capture 2')).toBeTruthy();
    expect(screen.getByText(/You can keep working/)).toBeTruthy();
  });

  it('are stopped one by one', async () => {
    const post = vi.spyOn(api, 'POST').mockResolvedValue({ data: undefined, response: new Response() } as never);
    shown([job(1), job(2, { state: 'waiting', progress: null })]);
    fireEvent.click(screen.getByRole('button', { name: 'Jobs: Capture 1' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Stop Capture 2' }));
    await waitFor(() => expect(post).toHaveBeenCalledWith('/api/jobs/{id}/stop', { params: { path: { id: 2 } } }));
  });
});
