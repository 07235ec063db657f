import { Button, Checkbox, Form, Input, Radio, Select } from 'antd';
import { useState } from 'react';
import { words } from '../api/words';
import { answer, api, type Schema } from '../api/client';
import { hasEnded, useJob } from '../api/hooks';
import { useSieves } from '../keywords/filter';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
import { number } from '../pieces/format';
import { GroupingPreviewView, type Grouping } from './GroupingPreview';
import { useDelayed } from '../pieces/useDelayed';
import { JobProgress } from '../pieces/JobProgress';
import ui from '../pieces/ui.module.css';

/** Depth, minimum overlap, linking rule and what is left out, and the grouping itself. */
export function RegroupPane({ project, close }: { project: Schema['ProjectView']; close: () => void }) {
  const given = project.grouping;
  const values: Grouping = {
    depth: given.depth,
    minOverlap: given.minOverlap,
    rule: given.rule,
    smallest: given.smallest ?? 1,
    leftOutHosts: given.leftOutHosts ?? '',
    listId: given.listId ?? null,
    perHost: given.perHost ?? 0,
    shortLists: given.shortLists ?? false,
    hysteresis: given.hysteresis ?? 2,
  };
  const { lists } = useSieves();
  const [jobId, setJobId] = useState<number>();
  const job = useJob(jobId).data;
  const regroup = async (grouping: Grouping) => {
    const started = await answer(api.POST('/api/clusters/regroup', { body: possible(grouping) }));
    setJobId(started.id);
  };
  const running = jobId !== undefined && !hasEnded(job);
  return (
    <>
      <h2>{project.groupedAt ? 'Regroup keywords' : 'Group keywords'}</h2>
      <p>Names, pages and decisions carry over to the most similar clusters. One undo restores everything.</p>
      <ChangeForm
        values={values}
        change={regroup}
        act={project.groupedAt ? 'Regroup' : 'Group'}
        acts={<Button onClick={close}>Close</Button>}
        isBlocked={running}
        below={(grouping, set) => (
          <>
            {jobId !== undefined && <JobProgress jobId={jobId} />}
            <Preview grouping={possible(grouping)} choose={(minOverlap) => set({ minOverlap })} />
          </>
        )}
      >
        {({ depth }) => (
          <>
            <div className={ui.two}>
              <Form.Item name="depth" label="Depth: results compared">
                <NumberField min={1} max={100} empty={10} />
              </Form.Item>
              <Form.Item
                name="minOverlap"
                label={<span title="3 or 4 of the first 10 is common practice">Minimum overlap: shared results</span>}
              >
                <NumberField min={1} max={depth} empty={4} />
              </Form.Item>
              <Form.Item
                name="smallest"
                label={
                  <span title="Keywords of smaller clusters stay without one, for review">
                    Smallest cluster: keywords
                  </span>
                }
              >
                <NumberField min={1} empty={1} />
              </Form.Item>
              <Form.Item
                name="listId"
                label={<span title="Keywords outside the list stay where they are">Keywords to group</span>}
                getValueProps={(id?: number | null) => ({ value: id ?? 0 })}
                normalize={(id: number) => (id === 0 ? null : id)}
              >
                <Select
                  options={[
                    { value: 0, label: 'all' },
                    ...lists.map((l) => ({ value: l.id, label: `list ${l.name} (${number(l.keywords)})` })),
                  ]}
                />
              </Form.Item>
              <Form.Item
                name="perHost"
                label={
                  <span title="So that a site with many pages in every list does not hold keywords together by itself">
                    Results of one host (0: all)
                  </span>
                }
              >
                <NumberField min={0} max={100} />
              </Form.Item>
              <Form.Item
                name="hysteresis"
                label={
                  <span title="How many more results another cluster must share with a keyword to take it. Applies when the other settings stay the same">
                    Results that hold a keyword
                  </span>
                }
              >
                <NumberField min={0} max={100} empty={2} />
              </Form.Item>
            </div>
            <Form.Item name="shortLists" valuePropName="checked">
              <Checkbox>
                Short lists may group <span className={ui.quiet}>by three fifths of the shorter one</span>
              </Checkbox>
            </Form.Item>
            <Form.Item name="rule" label="Linking rule">
              <Radio.Group
                vertical
                options={words.linkingRules.map(({ value, name, phrase }) => ({
                  value,
                  label: (
                    <>
                      {name} <span className={ui.quiet}>{phrase}</span>
                    </>
                  ),
                }))}
              />
            </Form.Item>
            <Form.Item
              name="leftOutHosts"
              label={
                <span title="Sites that rank for everything, such as a video site or a marketplace">
                  Hosts left out of the comparison, one a line
                </span>
              }
            >
              <Input.TextArea autoSize={{ minRows: 1, maxRows: 5 }} placeholder="none" />
            </Form.Item>
          </>
        )}
      </ChangeForm>
      <p className={ui.quiet}>
        Captured: {number(Math.round(Number(project.track.find((s) => s.stage === 'results')?.share ?? 0) * 100))} % of
        the keywords. The others wait until they have a result list.
      </p>
    </>
  );
}

/** No more results can be shared than are compared. */
const possible = (grouping: Grouping): Grouping => ({
  ...grouping,
  minOverlap: Math.min(grouping.minOverlap, grouping.depth),
  leftOutHosts: grouping.leftOutHosts.trim(),
});

/** Waits until what is entered stays the same for a moment, so that half a host name asks for nothing. */
function Preview({ grouping, choose }: { grouping: Grouping; choose: (minOverlap: number) => void }) {
  return <GroupingPreviewView grouping={useDelayed(grouping, 300)} choose={choose} />;
}
