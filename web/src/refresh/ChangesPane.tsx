import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { changesQuery } from './useChanges';
import { gained, interval, Verdict } from './Verdict';
import ui from '../pieces/ui.module.css';

/** What changes of each kind did together, and a form for a change that no scan saw. */
export function ChangesPane({ list }: { list: ListState }) {
  const query = changesQuery(list);
  const page = useQuery({
    queryKey: keyOf('changes', 'kinds', JSON.stringify(query)),
    queryFn: () => answer(api.GET('/api/changes', { params: { query: { ...query, Limit: 0 } } })),
  });
  return (
    <>
      <h2>All changes of one kind together</h2>
      {page.data?.kinds.length === 0 && <p>No change is known yet.</p>}
      {(page.data?.kinds.length ?? 0) > 0 && (
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>Kind</th>
              <th>Did they help?</th>
              <th className={ui.num}>Clicks</th>
              <th className={ui.num}>95 % interval</th>
            </tr>
          </thead>
          <tbody>
            {page.data?.kinds.map((k) => (
              <tr key={k.kind}>
                <td>
                  <Link to={`/refresh?view=changes&kind=${k.kind}`}>
                    {number(k.count)} {k.name}
                  </Link>
                  {k.measured < k.count && <div className={ui.second}>{number(k.measured)} measured</div>}
                </td>
                <td>
                  {k.effect ? <Verdict effect={k.effect} /> : <span className={ui.second}>nothing to measure</span>}
                </td>
                <td className={ui.num}>{gained(k.effect)}</td>
                <td className={ui.num}>{interval(k.effect)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className={ui.quiet}>
        Each page is compared with pages that did not change at the time and had a similar course in the 56 days before.
        What is told is beyond the season and beyond chance. A page of which several things were changed counts with
        each kind.
      </p>
      {page.data?.hasPerformance === false && (
        <p>
          No search performance is known, so that nothing can be measured.{' '}
          <Link to="/site">Read or import search performance</Link>
        </p>
      )}
      <hr />
      <EnterForm />
    </>
  );
}

const names: { value: Schema['ChangeKind']; label: string }[] = [
  { value: 'title', label: 'title' },
  { value: 'description', label: 'description' },
  { value: 'headings', label: 'headings' },
  { value: 'text', label: 'text' },
  { value: 'links', label: 'links' },
  { value: 'address', label: 'address or status' },
  { value: 'other', label: 'something else' },
];

function EnterForm() {
  const empty = { page: '', day: '', kind: 'text' as Schema['ChangeKind'], note: '' };
  const [change, setChange] = useState(empty);
  const enter = useFormChange(
    () => answer(api.POST('/api/changes', { body: change })),
    () => {
      setChange(empty);
      return 'Entered.';
    },
  );
  const fault = enter.error instanceof ApiError ? enter.error : undefined;
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate(undefined);
      }}
    >
      <h2>Enter a change</h2>
      <label>
        <span>Page</span>
        <Input
          value={change.page}
          placeholder="/guides/first-kayak"
          status={fault?.field === 'page' ? 'error' : undefined}
          onChange={(event) => setChange({ ...change, page: event.target.value })}
        />
      </label>
      <div className={ui.line}>
        <label>
          <span>Day</span>
          <Input
            type="date"
            value={change.day}
            status={fault?.field === 'day' ? 'error' : undefined}
            onChange={(event) => setChange({ ...change, day: event.target.value })}
          />
        </label>
        <label>
          <span>What</span>
          <Select
            aria-label="What"
            value={change.kind}
            options={names}
            onChange={(kind) => setChange({ ...change, kind })}
          />
        </label>
      </div>
      <label>
        <span>Note</span>
        <Input.TextArea
          value={change.note}
          rows={2}
          maxLength={2000}
          onChange={(event) => setChange({ ...change, note: event.target.value })}
        />
      </label>
      {fault && <div className={ui.fault}>{fault.message}</div>}
      <div className={ui.acts}>
        <Button
          type="primary"
          htmlType="submit"
          loading={enter.isPending}
          disabled={change.page.trim() === '' || change.day === ''}
        >
          Enter
        </Button>
      </div>
    </form>
  );
}
