import { words } from '../api/words';
import { Button, Checkbox, Input, InputNumber, Radio, Select } from 'antd';
import { useDeferredValue, useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { hasEnded, useFormChange, useJob } from '../api/hooks';
import { useSieves } from '../keywords/filter';
import { number } from '../pieces/format';
import { GroupingPreviewView, type Grouping } from './GroupingPreview';
import { JobProgress } from '../pieces/JobProgress';
import ui from '../pieces/ui.module.css';

type Rule = Schema['LinkingRule'];

/** Depth, minimum overlap, linking rule and what is left out, and the grouping itself. */
export function RegroupPane({ project, close }: { project: Schema['ProjectView']; close: () => void }) {
  const given = project.grouping;
  const [grouping, setGrouping] = useState<Grouping>({
    depth: given.depth,
    minOverlap: given.minOverlap,
    rule: given.rule,
    smallest: given.smallest ?? 1,
    leftOutHosts: given.leftOutHosts ?? '',
    listId: given.listId ?? null,
    perHost: given.perHost ?? 0,
    shortLists: given.shortLists ?? false,
    hysteresis: given.hysteresis ?? 2,
  });
  const [hosts, setHosts] = useState(grouping.leftOutHosts);
  const set = (change: Partial<Grouping>) => setGrouping({ ...grouping, ...change });
  const { lists } = useSieves();
  const [jobId, setJobId] = useState<number>();
  const job = useJob(jobId).data;
  const wanted = { ...grouping, minOverlap: Math.min(grouping.minOverlap, grouping.depth) };
  const ahead = useDeferredValue(wanted);
  const regroup = useFormChange(async () => {
    const started = await answer(api.POST('/api/clusters/regroup', { body: { ...wanted, leftOutHosts: hosts } }));
    setJobId(started.id);
    return started;
  });
  const running = jobId !== undefined && !hasEnded(job);
  return (
    <>
      <h2>{project.groupedAt ? 'Regroup keywords' : 'Group keywords'}</h2>
      <p>Names, pages and decisions carry over to the most similar clusters. One undo restores everything.</p>
      <div className={ui.form}>
        <div className={ui.two}>
          <label>
            <span>Depth: results compared</span>
            <InputNumber min={1} max={100} value={grouping.depth} onChange={(value) => set({ depth: value ?? 10 })} />
          </label>
          <label>
            <span title="3 or 4 of the first 10 is common practice">Minimum overlap: shared results</span>
            <InputNumber
              min={1}
              max={grouping.depth}
              value={grouping.minOverlap}
              onChange={(value) => set({ minOverlap: value ?? 4 })}
            />
          </label>
          <label>
            <span title="Keywords of smaller clusters stay without one, for review">Smallest cluster: keywords</span>
            <InputNumber min={1} value={grouping.smallest} onChange={(value) => set({ smallest: value ?? 1 })} />
          </label>
          <label>
            <span title="Keywords outside the list stay where they are">Keywords to group</span>
            <Select
              aria-label="Keywords to group"
              className={ui.full}
              value={grouping.listId ?? 0}
              onChange={(value) => set({ listId: value === 0 ? null : value })}
              options={[
                { value: 0, label: 'all' },
                ...lists.map((l) => ({ value: l.id, label: `list ${l.name} (${number(l.keywords)})` })),
              ]}
            />
          </label>
        </div>
        <div className={ui.two}>
          <label>
            <span title="So that a site with many pages in every list does not hold keywords together by itself">
              Results of one host (0: all)
            </span>
            <InputNumber
              min={0}
              max={100}
              value={grouping.perHost}
              onChange={(value) => set({ perHost: value ?? 0 })}
            />
          </label>
          <label>
            <span title="How many more results another cluster must share with a keyword to take it. Applies when the other settings stay the same">
              Results that hold a keyword
            </span>
            <InputNumber
              min={0}
              max={100}
              value={grouping.hysteresis}
              onChange={(value) => set({ hysteresis: value ?? 2 })}
            />
          </label>
        </div>
        <Checkbox checked={grouping.shortLists} onChange={(event) => set({ shortLists: event.target.checked })}>
          Short lists may group <span className={ui.quiet}>by three fifths of the shorter one</span>
        </Checkbox>
        <div role="radiogroup" aria-label="Linking rule">
          <span className={ui.second}>Linking rule</span>
          <Radio.Group
            vertical
            value={grouping.rule}
            onChange={(event) => set({ rule: event.target.value as Rule })}
            options={words.linkingRules.map(({ value, name, phrase }) => ({
              value,
              label: (
                <>
                  {name} <span className={ui.quiet}>{phrase}</span>
                </>
              ),
            }))}
          />
        </div>
        <label>
          <span title="Sites that rank for everything, such as a video site or a marketplace">
            Hosts left out of the comparison, one a line
          </span>
          <Input.TextArea
            autoSize={{ minRows: 1, maxRows: 5 }}
            placeholder="none"
            value={hosts}
            onChange={(event) => setHosts(event.target.value)}
            onBlur={() => set({ leftOutHosts: hosts.trim() })}
          />
        </label>
      </div>
      <div className={ui.acts}>
        <Button type="primary" loading={regroup.isPending || running} onClick={() => regroup.mutate(undefined)}>
          {project.groupedAt ? 'Regroup' : 'Group'}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      {regroup.error instanceof ApiError && <p className={ui.clay}>{regroup.error.message}</p>}
      {jobId !== undefined && <JobProgress jobId={jobId} />}
      <GroupingPreviewView grouping={ahead} choose={(minOverlap) => set({ minOverlap })} />
      <p className={ui.quiet}>
        Captured: {number(Math.round(Number(project.track.find((s) => s.stage === 'results')?.share ?? 0) * 100))} % of
        the keywords. The others wait until they have a result list.
      </p>
    </>
  );
}
