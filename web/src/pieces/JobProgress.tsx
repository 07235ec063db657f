import { Button, Progress } from 'antd';
import type { ReactNode } from 'react';
import { answer, api, type Schema } from '../api/client';
import { hasEnded, useChange, useJob, useShownJob } from '../api/hooks';
import { number, timeLeft } from './format';
import { Reading } from './States';
import ui from './ui.module.css';

/** A job: how far it is and a way to stop it; when it has ended, what came of it and a way to go on. The one place for this. */
export function JobProgress({
  jobId,
  children,
}: {
  jobId: number;
  /** What else is to be shown when it has ended. */
  children?: (ended: Schema['JobView']) => ReactNode;
}) {
  const job = useJob(jobId).data;
  useShownJob(jobId);
  const stop = useChange(() => answer(api.POST('/api/jobs/{id}/stop', { params: { path: { id: jobId } } })));
  const resume = useChange(() => answer(api.POST('/api/jobs/{id}/resume', { params: { path: { id: jobId } } })));
  if (!job) return <Reading />;
  const progress = job.progress;
  if (!hasEnded(job))
    return (
      <>
        <Progress
          size="small"
          percent={progress && progress.total > 0 ? Math.floor((100 * progress.done) / progress.total) : 0}
        />
        <p role="status">
          {progress?.phase ?? 'Queued'}
          {progress && progress.total > 0 && `: ${number(progress.done)} of ${number(progress.total)}`}
          {progress?.secondsLeft != null && `, ${timeLeft(progress.secondsLeft)}`}
        </p>
        <div className={ui.acts}>
          <Button loading={stop.isPending} onClick={() => stop.mutate(undefined)}>
            Stop
          </Button>
        </div>
      </>
    );
  return (
    <>
      <p role="status" className={job.state === 'failed' || job.state === 'paused' ? ui.clay : undefined}>
        {job.message}
      </p>
      {job.canResume && (
        <div className={ui.acts}>
          <Button type="primary" loading={resume.isPending} onClick={() => resume.mutate(undefined)}>
            Resume
          </Button>
        </div>
      )}
      {children?.(job)}
    </>
  );
}
