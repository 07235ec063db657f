import { Button, InputNumber, Radio } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { hasEnded, useChange, useJob } from '../api/hooks';
import { number } from '../pieces/format';

type Rule = Schema['LinkingRule'];

export const ruleNames: Record<Rule, string> = { primary: 'primary', everyPair: 'every pair', chain: 'chain' };

const ruleSays: Record<Rule, string> = {
  primary:
    'Clusters form around the keywords of greatest volume; each keyword goes to the primary that it shares most with.',
  everyPair: 'Within a cluster every two keywords share the minimum. Tight, and many clusters.',
  chain: 'Whoever shares the minimum with one member belongs. Loose; clusters can grow long.',
};

/** Depth, minimum overlap and linking rule, and the grouping itself. */
export function RegroupPane({ project, close }: { project: Schema['ProjectView']; close: () => void }) {
  const [depth, setDepth] = useState(project.grouping.depth);
  const [minOverlap, setMinOverlap] = useState(project.grouping.minOverlap);
  const [rule, setRule] = useState<Rule>(project.grouping.rule);
  const [jobId, setJobId] = useState<number>();
  const job = useJob(jobId).data;
  const regroup = useChange(async () => {
    const started = await answer(api.POST('/api/clusters/regroup', { body: { depth, minOverlap, rule } }));
    setJobId(started.id);
    return started;
  });
  const running = jobId !== undefined && !hasEnded(job);
  return (
    <>
      <h2>{project.groupedAt ? 'Regroup keywords' : 'Group keywords'}</h2>
      <p>
        Keywords whose searches return the same pages can be won by one page. Clusters keep their pages and decisions: a
        new cluster inherits from the old one with which it has most in common. One undo brings everything back.
      </p>
      <div className="form">
        <label>
          <span>Depth: how many results are compared (1 to 100)</span>
          <InputNumber min={1} max={100} value={depth} onChange={(value) => setDepth(value ?? 10)} />
        </label>
        <label>
          <span>
            Minimum overlap: how many of them two keywords must share (3 or 4 of the first 10 is common practice)
          </span>
          <InputNumber min={1} max={depth} value={minOverlap} onChange={(value) => setMinOverlap(value ?? 4)} />
        </label>
        <div role="radiogroup" aria-label="Linking rule">
          <span className="second">Linking rule</span>
          <Radio.Group
            vertical
            value={rule}
            onChange={(event) => setRule(event.target.value as Rule)}
            options={(Object.keys(ruleNames) as Rule[]).map((value) => ({
              value,
              label: (
                <>
                  {ruleNames[value]} <span className="quiet">{ruleSays[value]}</span>
                </>
              ),
            }))}
          />
        </div>
      </div>
      {regroup.error instanceof ApiError && <p className="clay">{regroup.error.message}</p>}
      {running && <p role="status">{job?.progress?.phase ?? 'Waiting for its turn'}…</p>}
      {job && hasEnded(job) && (
        <p role="status" className={job.state === 'failed' ? 'clay' : undefined}>
          {job.message}
        </p>
      )}
      <div className="acts">
        <Button type="primary" loading={regroup.isPending || running} onClick={() => regroup.mutate(undefined)}>
          {project.groupedAt ? 'Regroup' : 'Group'}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      <p className="quiet">
        Captured: {number(Math.round(Number(project.track.find((s) => s.stage === 'results')?.share ?? 0) * 100))} % of
        the keywords. The others wait until they have a result list.
      </p>
    </>
  );
}
