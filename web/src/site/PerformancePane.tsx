import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, ApiError } from '../api/client';
import { hasEnded, useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, day, number } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { JobProgress } from '../pieces/JobProgress';
import ui from '../pieces/ui.module.css';

/** The site's search performance: what there is, and two ways to bring more. */
export function PerformancePane({ bring, close }: { bring: () => void; close: () => void }) {
  const view = useQuery({ queryKey: keyOf('performance'), queryFn: () => answer(api.GET('/api/performance')) });
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { summary, newest } = view.data;
  return (
    <>
      <h2>Search performance</h2>
      {summary.rows === 0 ? (
        <p>
          None was brought yet. With it, evidence for pages, split traffic and the click curve come from what people
          really did, not from estimates.
        </p>
      ) : (
        <table className={ui.facts}>
          <tbody>
            <Fact name="Rows" value={number(summary.rows)} />
            <Fact name="From" value={day(summary.firstDay)} />
            <Fact name="To" value={day(summary.lastDay)} />
            <Fact name="Counts" value={`${counted(summary.days, 'day')}, from ${day(summary.countsFrom)}`} />
            <Fact name="Queries" value={number(summary.queries)} />
            <Fact name="Clicks" value={number(summary.clicks)} />
            <Fact name="Impressions" value={number(summary.impressions)} />
          </tbody>
        </table>
      )}
      <hr />
      <ReadForm
        key={`${view.data.proposedFrom} ${view.data.proposedTo}`}
        from={view.data.proposedFrom}
        to={view.data.proposedTo}
        isRunning={newest !== null && !hasEnded(newest)}
      />
      {newest && <JobProgress jobId={newest.id} />}
      <hr />
      <h2>From a file</h2>
      <p>
        A table with the columns query, page, date, clicks, impressions and position. Days that are known already are
        replaced.
      </p>
      <div className={ui.acts}>
        <Button onClick={bring}>Import a file</Button>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}

function ReadForm({ from, to, isRunning }: { from: string; to: string; isRunning: boolean }) {
  const [range, setRange] = useState({ from, to });
  const read = useFormChange(
    () => answer(api.POST('/api/performance', { body: range })),
    () => 'Reading search performance.',
  );
  const fault = read.error instanceof ApiError ? read.error : undefined;
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        read.mutate(undefined);
      }}
    >
      <h2>From the service</h2>
      <div className={ui.line}>
        <label>
          <span>First day</span>
          <Input
            type="date"
            value={range.from}
            status={fault?.field === 'from' ? 'error' : undefined}
            onChange={(event) => setRange({ ...range, from: event.target.value })}
          />
        </label>
        <label>
          <span>Last day</span>
          <Input
            type="date"
            value={range.to}
            status={fault?.field === 'to' ? 'error' : undefined}
            onChange={(event) => setRange({ ...range, to: event.target.value })}
          />
        </label>
      </div>
      {fault && <div className={ui.fault}>{fault.message}</div>}
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" loading={read.isPending} disabled={isRunning}>
          Read
        </Button>
        <Link to="/site?pane=services">Address of the service</Link>
      </div>
    </form>
  );
}

const Fact = ({ name, value }: { name: string; value: string }) => (
  <tr>
    <td className={ui.second}>{name}</td>
    <td className={ui.num}>{value}</td>
  </tr>
);
