import { Button, InputNumber, Radio } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { hasEnded, useChange, useJob } from '../api/hooks';
import { number } from '../pieces/format';
import { OutlookView } from './OutlookView';

type Rule = Schema['LinkingRule'];

export const ruleNames: Record<Rule, string> = { primary: 'primary', everyPair: 'every pair', chain: 'chain' };

const ruleSays: Record<Rule, string> = {
  primary: 'around the keywords of greatest volume',
  everyPair: 'every two keywords share the minimum; tight',
  chain: 'one member that shares the minimum is enough; loose',
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
      <p>Names, pages and decisions go on with the clusters that have most in common. One undo brings all back.</p>
      <div className="form">
        <div className="two">
          <label>
            <span>Depth: results compared</span>
            <InputNumber min={1} max={100} value={depth} onChange={(value) => setDepth(value ?? 10)} />
          </label>
          <label>
            <span title="3 or 4 of the first 10 is common practice">Minimum overlap: shared results</span>
            <InputNumber min={1} max={depth} value={minOverlap} onChange={(value) => setMinOverlap(value ?? 4)} />
          </label>
        </div>
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
      <div className="acts">
        <Button type="primary" loading={regroup.isPending || running} onClick={() => regroup.mutate(undefined)}>
          {project.groupedAt ? 'Regroup' : 'Group'}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      {regroup.error instanceof ApiError && <p className="clay">{regroup.error.message}</p>}
      {running && <p role="status">{job?.progress?.phase ?? 'Waiting for its turn'}…</p>}
      {job && hasEnded(job) && (
        <p role="status" className={job.state === 'failed' ? 'clay' : undefined}>
          {job.message}
        </p>
      )}
      <OutlookView
        depth={depth}
        minOverlap={Math.min(minOverlap, depth)}
        rule={rule}
        choose={(value) => setMinOverlap(value)}
      />
      <p className="quiet">
        Captured: {number(Math.round(Number(project.track.find((s) => s.stage === 'results')?.share ?? 0) * 100))} % of
        the keywords. The others wait until they have a result list.
      </p>
    </>
  );
}
