import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input } from 'antd';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { hasEnded } from '../api/hooks';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
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

const ReadForm = ({ from, to, isRunning }: { from: string; to: string; isRunning: boolean }) => (
  <>
    <h2>From the service</h2>
    <ChangeForm
      values={{ from, to }}
      change={(body) => answer(api.POST('/api/performance', { body }))}
      done={() => 'Reading search performance.'}
      act="Read"
      acts={<Link to="/site?pane=services">Address of the service</Link>}
      isBlocked={isRunning}
    >
      <div className={ui.line}>
        <Form.Item name="from" label="First day">
          <Input type="date" />
        </Form.Item>
        <Form.Item name="to" label="Last day">
          <Input type="date" />
        </Form.Item>
      </div>
    </ChangeForm>
  </>
);

const Fact = ({ name, value }: { name: string; value: string }) => (
  <tr>
    <td className={ui.second}>{name}</td>
    <td className={ui.num}>{value}</td>
  </tr>
);
