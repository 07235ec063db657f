import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schema } from '../api/client';
import { JobProgress } from './JobProgress';

afterEach(cleanup);

const job: Schema['JobView'] = {
  id: 7,
  kind: 'capture',
  label: 'Capture',
  state: 'running',
  message: '',
  createdAt: '2026-11-27T10:00:00Z',
  canResume: false,
  progress: null,
} as Schema['JobView'];

/** As the events of the server would leave it. */
function shown(now: Schema['JobView'], active: boolean) {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  queries.setQueryData(['jobs'], active ? [now] : []);
  queries.setQueryData(['job', 7], { ...now });
  return render(
    <QueryClientProvider client={queries}>
      <App>
        <JobProgress jobId={7}>{(ended) => <p>and {ended.state}</p>}</JobProgress>
      </App>
    </QueryClientProvider>,
  );
}

describe('the progress of a job', () => {
  it('says how far it is, what time is left, and can be stopped', () => {
    shown({ ...job, progress: { done: 40, total: 200, phase: 'Asking', secondsLeft: 90 } } as Schema['JobView'], true);
    expect(screen.getByRole('status').textContent).toBe('Asking: 40 of 200, about 2 min left');
    expect(screen.getByRole('button', { name: 'Stop' })).toBeTruthy();
    expect(screen.queryByText('and running')).toBeNull();
  });

  it('says what came of it, and goes on where that makes sense', () => {
    shown({ ...job, state: 'stopped', message: 'Stopped. 40 lists were kept.', canResume: true }, false);
    expect(screen.getByRole('status').textContent).toBe('Stopped. 40 lists were kept.');
    expect(screen.getByRole('button', { name: 'Resume' })).toBeTruthy();
    expect(screen.getByText('and stopped')).toBeTruthy();
  });

  it('offers no way on where there is none', () => {
    shown({ ...job, state: 'done', message: 'Done.' }, false);
    expect(screen.queryByRole('button')).toBeNull();
  });
});
