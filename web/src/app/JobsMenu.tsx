import { Popover, Progress } from 'antd';
import type { Schema } from '../api/client';
import { answer, api } from '../api/client';
import { useActiveJobs } from '../api/hooks';
import { number, timeLeft } from '../pieces/format';
import styles from './shell.module.css';
import ui from '../pieces/ui.module.css';

const stop = (id: number) => void answer(api.POST('/api/jobs/{id}/stop', { params: { path: { id } } }));

/** How far a job is, in words. */
export function jobSays({ progress, state }: Schema['JobView']) {
  if (!progress) return state === 'running' ? 'starting' : 'waiting for the job before it';
  const parts = [
    progress.total > 0 && `${number(progress.done)} of ${number(progress.total)}`,
    progress.secondsLeft != null && timeLeft(progress.secondsLeft),
  ];
  return parts.filter(Boolean).join(' · ');
}

/** What is under way, on every screen: counts, time left, and a way to stop each job. */
export function JobsMenu() {
  const jobs = useActiveJobs();
  const job = jobs[0];
  if (!job) return null;
  const all = (
    <div className={styles.jobs}>
      {jobs.map((j) => (
        <section key={j.id}>
          <b>{j.label}</b>
          {j.author && <span className={ui.second}> by {j.author}</span>}
          {j.progress && j.progress.total > 0 && (
            <Progress
              size="small"
              aria-label={j.label}
              percent={Math.floor((100 * j.progress.done) / j.progress.total)}
            />
          )}
          <p className={ui.second}>
            {[j.progress?.phase, jobSays(j)].filter(Boolean).join(': ')}{' '}
            <button className={ui.chip} aria-label={`Stop ${j.label}`} onClick={() => stop(j.id)}>
              stop
            </button>
          </p>
        </section>
      ))}
      <p className={ui.second}>
        You can keep working on every stage meanwhile. Clusters, suggestions and findings update when a job ends; you
        are told at the bottom of the screen.
      </p>
    </div>
  );
  return (
    <span className={`${styles.soft} ${styles.jobsLine}`}>
      <Popover trigger="click" placement="bottomRight" content={all}>
        <button className={ui.cut} title={job.progress?.phase} aria-label={`Jobs: ${job.label}`}>
          {job.label}
          {job.progress && ` · ${jobSays(job)}`}
          {jobs.length > 1 && ` · ${jobs.length - 1} waiting`} ▾
        </button>
      </Popover>{' '}
      <button onClick={() => stop(job.id)}>Stop</button>
    </span>
  );
}
