import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { stepEvidence } from '../api/evidence';
import { DataTable, type Picks } from '../pieces/DataTable';
import { counted, decimal, number } from '../pieces/format';
import { GoButton } from '../pieces/GoButton';
import { NotYet } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { PickedSteps } from './PickedSteps';
import { stepColumns } from './stepColumns';
import { useStepChange, type StepQuery } from './useSteps';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'i', does: 'in progress' },
  { keys: 'v', does: 'in review' },
  { keys: 'x', does: 'done' },
  { keys: 't', does: 'to do again' },
  { keys: 'Space', does: 'pick a row, for changes to several' },
];

const byKey: Record<string, Schema['StepStatus']> = { i: 'inProgress', v: 'inReview', x: 'done', t: 'toDo' };

const ignore = () => undefined;

/** Steps in the order of the work: the greatest gain for an hour first. */
export function StepsTable({
  list,
  query,
  host,
  picks,
  onSelect,
  onTally,
}: {
  list: ListState;
  query: StepQuery;
  host: string | undefined;
  picks: Picks & { clear: () => void };
  onSelect: (id: number) => void;
  onTally: (tally: React.ReactNode) => void;
}) {
  useKeyHelp(help);
  const change = useStepChange();
  const addDecided = useChange(
    () => answer(api.POST('/api/plan/steps/from-decisions')),
    (r) => `${counted(r.steps, 'step')} added.`,
  );
  const check = useChange(
    () => answer(api.POST('/api/plan/check')),
    () => 'The pages concerned are being read.',
  );
  const [page, setPage] = useState<Schema['StepPage']>();
  useEffect(() => {
    if (!page) return;
    onTally(
      <>
        <span>
          <b>{number(page.tally.rows)}</b> {page.tally.rows === 1 ? 'step' : 'steps'}
        </span>
        <span>
          <b>{decimal(page.hours, 1)}</b> hours
        </span>
        <span>
          gain <b>{number(Math.round(page.tally.atStake))}</b> clicks a month
        </span>
        <span>
          demand <b>{number(page.tally.demand)}</b> a month, estimated
        </span>
        <span className={ui.gap} />
        for prioritising, not a forecast
      </>,
    );
  }, [page, onTally]);
  const selected = list.text('id');
  return (
    <>
      {picks.ids.size > 0 && <PickedSteps ids={picks.ids} clear={picks.clear} />}
      {page && (page.withoutStep > 0 || page.toCheck > 0) && (
        <div className={ui.says}>
          {page.withoutStep > 0 && (
            <Button size="small" onClick={() => addDecided.mutate(undefined)} loading={addDecided.isPending}>
              Add steps for {counted(page.withoutStep, 'decision')}
            </Button>
          )}
          {page.toCheck > 0 && (
            <Button size="small" onClick={() => check.mutate(undefined)} loading={check.isPending}>
              Check {counted(page.toCheck, 'done step')} now
            </Button>
          )}
          {page.notVerified > 0 && <span className={ui.clay}>{page.notVerified} done, not verified</span>}
          {page.late > 0 && <span className={ui.clay}>{page.late} late</span>}
        </div>
      )}
      <DataTable
        name="steps"
        query={query}
        read={async (range) => {
          const read = await answer(api.GET('/api/plan/steps', { params: { query: { ...query, ...range } } }));
          if (range.Offset === 0) setPage(read);
          return read;
        }}
        columns={stepColumns(host)}
        list={list}
        idOf={(r) => r.id}
        selected={selected}
        onSelect={(r) => onSelect(r.id)}
        onKey={(key, row, next) => {
          const status = byKey[key];
          if (!row || String(row.id) !== selected || !status) return false;
          change.mutate({ ids: [row.id], status, version: row.version });
          if (key === 'x') next();
          return true;
        }}
        onTally={ignore}
        picks={picks}
        evidenceOf={(r) => stepEvidence(r.id)}
        empty={
          Object.values(query).some((v) => v !== undefined) ? (
            <NotYet title="No step fits">Remove a condition above, or search for something else.</NotYet>
          ) : (
            <NotYet title="Nothing is planned yet">
              <p>
                Accept findings, decide conflicts and plan pages: each becomes a step on its page, with its gain and its
                hours.
              </p>
              <GoButton to="/findings">Work through findings</GoButton>
            </NotYet>
          )
        }
      />
    </>
  );
}
