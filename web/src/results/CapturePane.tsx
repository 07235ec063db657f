import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Checkbox, InputNumber, Radio } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { hasEnded, useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, money, number, percent } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { JobProgress } from '../pieces/JobProgress';
import { StagedPart } from './StagedPart';
import ui from '../pieces/ui.module.css';

/** Before a capture: how many lists, how many are there already, what it costs. Then how far it is. */
export function CapturePane({
  selection,
  picked,
  close,
}: {
  selection: Schema['KeywordSelection'];
  picked: number;
  close: () => void;
}) {
  const [again, setAgain] = useState(false);
  const [freshDays, setFreshDays] = useState<number | null>(null);
  const [begun, setBegun] = useState<{ jobId: number; inStages: boolean }>();
  const [staged, setStaged] = useState(false);
  const [certainty, setCertainty] = useState<number | null>(null);
  const body = { selection, freshDays, again };
  const estimate = useQuery({
    queryKey: keyOf('estimate', body),
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.POST('/api/captures/estimate', { body })),
  });
  const stages = useQuery({
    queryKey: keyOf('estimate-stages', selection, certainty),
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.POST('/api/captures/estimate/stages', { body: { selection, certainty } })),
  });
  // Only what has no list yet can be told from others.
  const open = stages.data?.open ?? 0;
  const inStages = staged && open > 1;
  const start = useChange(async () => {
    const wanted = inStages ? (certainty ?? estimate.data?.usualCertainty ?? null) : null;
    const job = await answer(api.POST('/api/captures', { body: { ...body, certainty: wanted } }));
    setBegun({ jobId: job.id, inStages });
    return job;
  });
  if (begun)
    return (
      <>
        <h2>Capturing results</h2>
        <JobProgress jobId={begun.jobId} />
        {begun.inStages && <StagedPart />}
        <div className={ui.acts}>
          <Button onClick={close}>Close</Button>
        </div>
      </>
    );
  if (estimate.isError) return <Failed error={estimate.error} retry={() => void estimate.refetch()} />;
  if (!estimate.data) return <Reading />;
  const e = estimate.data;
  return (
    <>
      <h2>Capture results</h2>
      <p>
        For {picked > 0 ? `the ${counted(e.chosen, 'keyword')} picked` : `all ${counted(e.chosen, 'keyword')} in view`},
        the first {e.depth} results of each.
      </p>
      {stages.isPending && <p className={ui.second}>Estimating a capture in stages…</p>}
      {open > 1 && (
        <div role="radiogroup" aria-label="How to capture" className={ui.form}>
          <Radio checked={!staged} onChange={() => setStaged(false)}>
            All {number(e.toAsk)} for {money(e.cost, e.currency)}
          </Radio>
          <Radio checked={staged} onChange={() => setStaged(true)}>
            In stages: about {number(stages.data!.lists)} for {money(stages.data!.cost, e.currency)}, clusters expected
            to be {percent(stages.data!.same)} the same
          </Radio>
        </div>
      )}
      {inStages ? (
        <div className={ui.form}>
          <label>
            <span>Certainty required, %</span>
            <InputNumber
              min={50}
              max={99}
              aria-label="Certainty in per cent"
              value={Math.round((certainty ?? e.usualCertainty) * 100)}
              onChange={(value) => setCertainty(value === null ? null : value / 100)}
            />
          </label>
          <p className={ui.second}>
            Keywords whose results can be told from others are left out and marked as expected. Some of them are
            captured in the end to check. You can stop at any point and use what is there. A keyword with a list counts
            as captured, however old that is.
          </p>
        </div>
      ) : (
        <>
          <table className={ui.facts}>
            <tbody>
              <tr>
                <td>Already there and younger than {counted(e.freshDays, 'day')}</td>
                <td className={ui.num}>{number(e.fresh)}</td>
              </tr>
              <tr>
                <td>
                  <b>Will be asked for</b>
                </td>
                <td className={ui.num}>
                  <b>{number(e.toAsk)}</b>
                </td>
              </tr>
              <tr>
                <td>Cost at {money(e.pricePerRequest, e.currency)} each</td>
                <td className={ui.num}>
                  <b>{money(e.cost, e.currency)}</b>
                </td>
              </tr>
            </tbody>
          </table>
          <div className={ui.form}>
            <label>
              <span>Reuse captures younger than (days)</span>
              <InputNumber
                min={0}
                max={3650}
                aria-label="Days that a list is fresh"
                value={freshDays ?? e.freshDays}
                onChange={(days) => setFreshDays(days)}
              />
            </label>
            <Checkbox checked={again} onChange={(event) => setAgain(event.target.checked)}>
              Ask for fresh ones again, and pay for them again
            </Checkbox>
          </div>
        </>
      )}
      {!e.isPossible && (
        <p className={ui.clay}>
          No search service is named. Give its address under <Link to="/site?pane=services">Services</Link>, or import
          result lists.
        </p>
      )}
      {start.isError && <p className={ui.clay}>{start.error.message}</p>}
      <div className={ui.acts}>
        <Button
          type="primary"
          disabled={(!inStages && e.toAsk === 0) || !e.isPossible}
          loading={start.isPending}
          onClick={() => start.mutate(undefined)}
        >
          {inStages ? 'Capture in stages' : `Capture ${number(e.toAsk)} for ${money(e.cost, e.currency)}`}
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      {e.toAsk === 0 && !inStages && (
        <p>
          {e.chosen === 0 ? 'No keyword is chosen.' : 'All of them have a fresh list; nothing needs to be asked for.'}
        </p>
      )}
    </>
  );
}

/** Captures so far, newest first: what came of each, what it cost, and a way to go on or to try again. */
export function CaptureHistory() {
  const captures = useQuery({ queryKey: keyOf('captures'), queryFn: () => answer(api.GET('/api/captures')) });
  const [open, setOpen] = useState<number>();
  const failed = useQuery({
    queryKey: keyOf('failed-captures', open),
    enabled: open !== undefined,
    queryFn: () => answer(api.GET('/api/captures/{id}/failed', { params: { path: { id: open! } } })),
  });
  const retry = useChange((id: number) => answer(api.POST('/api/captures/{id}/retry', { params: { path: { id } } })));
  if (captures.isError) return <Failed error={captures.error} retry={() => void captures.refetch()} />;
  if (!captures.data || captures.data.length === 0) return <p>Nothing was captured yet.</p>;
  return (
    <>
      {captures.data.map(({ job, counts, cost, currency }) => (
        <div key={job.id} className={ui.candidate}>
          <div className={ui.line}>
            <b>{job.label}</b>
            <span className={ui.gap} />
            <span className={ui.second}>{money(cost, currency)}</span>
          </div>
          {hasEnded(job) && job.state === 'done' ? <p>{job.message}</p> : <JobProgress jobId={job.id} />}
          {counts.failed > 0 && (
            <div className={ui.acts}>
              <Button size="small" onClick={() => retry.mutate(job.id)}>
                Try {counted(counts.failed, 'failed one')} again
              </Button>
              <button className={ui.chip} onClick={() => setOpen(open === job.id ? undefined : job.id)}>
                {open === job.id ? 'hide them' : 'which ones?'}
              </button>
            </div>
          )}
          {open === job.id &&
            failed.data?.map((f) => (
              <div key={f.keywordId} className={ui.second}>
                {f.phrase}: {f.note}
              </div>
            ))}
        </div>
      ))}
    </>
  );
}
