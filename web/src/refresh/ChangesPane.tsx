import { useQuery } from '@tanstack/react-query';
import { Form, Input, Select } from 'antd';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
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

const EnterForm = () => (
  <>
    <h2>Enter a change</h2>
    <ChangeForm
      values={{ page: '', day: '', kind: 'text' as Schema['ChangeKind'], note: '' }}
      change={(body) => answer(api.POST('/api/changes', { body }))}
      done={() => 'Entered.'}
      act="Enter"
      isReady={(form) => form.page.trim() !== '' && form.day !== ''}
      clears={['page', 'day', 'kind', 'note']}
    >
      <Form.Item name="page" label="Page">
        <Input placeholder="/guides/first-kayak" />
      </Form.Item>
      <div className={ui.line}>
        <Form.Item name="day" label="Day">
          <Input type="date" />
        </Form.Item>
        <Form.Item name="kind" label="What">
          <Select options={names} />
        </Form.Item>
      </div>
      <Form.Item name="note" label="Note">
        <Input.TextArea rows={2} maxLength={2000} />
      </Form.Item>
    </ChangeForm>
  </>
);
