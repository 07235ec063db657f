import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { DataTable, type Column } from '../pieces/DataTable';
import { counted, day, decimal, number, shortUrl } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import { NotYet } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { capital, type Step } from './says';
import { sendChange, useStepChange, type StepQuery } from './useSteps';

const help = [
  { keys: 'i', does: 'in progress' },
  { keys: 'v', does: 'in review' },
  { keys: 'x', does: 'done' },
  { keys: 't', does: 'to do again' },
  { keys: 'Space', does: 'pick a row, for changes to several' },
];

const byKey: Record<string, Schema['StepStatus']> = { i: 'inProgress', v: 'inReview', x: 'done', t: 'toDo' };

const none: ReadonlySet<number> = new Set();
const ignore = () => undefined;
const short = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: '2-digit', timeZone: 'UTC' });

/** Steps in the order of the work: the greatest gain for an hour first. */
export function StepsTable({
  list,
  query,
  host,
  onSelect,
  onTally,
}: {
  list: ListState;
  query: StepQuery;
  host: string | undefined;
  onSelect: (id: number) => void;
  onTally: (tally: React.ReactNode) => void;
}) {
  const [picked, setPicked] = useState<ReadonlySet<number>>(none);
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
        <span className="gap" />
        for prioritising, not a forecast
      </>,
    );
  }, [page, onTally]);
  const changed = (r: Schema['ChangedSteps']) => {
    setPicked(none);
    return `${counted(r.steps, 'step')} changed. Undo takes it back.`;
  };
  const selected = list.text('id');
  const columns: Column<Step>[] = [
    { key: 'place', title: '#', width: '34px', numeric: true, sorts: false, render: (r) => r.place ?? '' },
    { key: 'what', title: 'What', width: '66px', render: (r) => capital(r.what) },
    {
      key: 'page',
      title: 'Page',
      width: 'minmax(110px, 2.2fr)',
      render: (r) => <span title={r.url}>{shortUrl(r.url, host)}</span>,
    },
    {
      key: 'parts',
      title: 'For',
      width: 'minmax(70px, 1.4fr)',
      sorts: false,
      render: (r) => {
        const says = r.clusters.map((c) => c.name).join(', ') || r.parts[0]?.says || '';
        return (
          <span className="second" title={says}>
            {says}
          </span>
        );
      },
    },
    {
      key: 'searched',
      title: 'By month',
      width: '92px',
      sorts: false,
      render: (r) => <SeasonCell season={r.searched ?? null} />,
    },
    { key: 'gain', title: 'Gain', width: '52px', numeric: true, render: (r) => <b>{number(Math.round(r.gain))}</b> },
    { key: 'hours', title: 'Hours', width: '48px', numeric: true, render: (r) => decimal(r.hours, 2) },
    { key: 'owner', title: 'Owner', width: '58px', render: (r) => <span title={r.owner}>{r.owner}</span> },
    {
      key: 'due',
      title: 'Due',
      width: '84px',
      render: (r) =>
        r.due ? (
          <span className={r.isLate ? 'clay' : undefined} title={day(r.due)}>
            {short.format(new Date(r.due))}
          </span>
        ) : (
          r.season && (
            <span
              className={r.isLate ? 'clay' : 'quiet'}
              title={`for the season: “${r.season.cluster}” is searched for most from ${day(r.season.peak)}`}
            >
              {short.format(new Date(r.season.due))} *
            </span>
          )
        ),
    },
    {
      key: 'status',
      title: 'Status',
      width: '92px',
      render: (r) => <span className={r.statusName.includes('not verified') ? 'clay' : undefined}>{r.statusName}</span>,
    },
  ];
  return (
    <>
      {picked.size > 0 && (
        <div className="says picked">
          <b>{counted(picked.size, 'step')} picked</b>
          {(['inProgress', 'inReview', 'done', 'toDo'] as const).map((status) => (
            <Button key={status} size="small" onClick={() => change.mutate({ ids: [...picked], status })}>
              {{ inProgress: 'In progress', inReview: 'In review', done: 'Done', toDo: 'To do' }[status]}
            </Button>
          ))}
          <AskText
            label="Owner"
            placeholder="a name"
            act="Assign"
            change={(owner) => sendChange({ ids: [...picked], owner })}
            done={changed}
          >
            <Button size="small">Assign</Button>
          </AskText>
          <AskText
            label="Due date"
            placeholder="2026-12-31"
            act="Set"
            change={(due) => sendChange({ ids: [...picked], due })}
            done={changed}
          >
            <Button size="small">Due</Button>
          </AskText>
          <AskText
            label="Why are they dropped?"
            placeholder="the reason"
            act="Drop"
            change={(reason) => sendChange({ ids: [...picked], status: 'dropped', reason })}
            done={changed}
          >
            <Button size="small">Drop</Button>
          </AskText>
          <Button size="small" type="text" onClick={() => setPicked(none)}>
            Clear selection
          </Button>
        </div>
      )}
      {page && (page.withoutStep > 0 || page.toCheck > 0) && (
        <div className="says">
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
          {page.notVerified > 0 && <span className="clay">{page.notVerified} done, not verified</span>}
          {page.late > 0 && <span className="clay">{page.late} late</span>}
        </div>
      )}
      <DataTable
        name="steps"
        query={query}
        read={async (Offset, Limit) => {
          const read = await answer(api.GET('/api/plan/steps', { params: { query: { ...query, Offset, Limit } } }));
          if (Offset === 0) setPage(read);
          return read;
        }}
        columns={columns}
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
        picks={{ ids: picked, set: setPicked }}
        empty={
          Object.values(query).some((v) => v !== undefined) ? (
            <NotYet title="No step fits">Remove a condition above, or search for something else.</NotYet>
          ) : (
            <NotYet title="Nothing is planned yet">
              Accept findings, decide conflicts and plan pages: each becomes a step on its page, with what it brings and
              takes.
            </NotYet>
          )
        }
      />
    </>
  );
}
