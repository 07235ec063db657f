import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { focusList } from '../app/keys';
import { shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { TopicSelect } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

export function DeclineForm({ cluster, close }: { cluster: Schema['ClusterRow']; close: () => void }) {
  const decline = useFormChange(
    (reason: string) =>
      answer(
        api.POST('/api/page-map/{clusterId}/decline', {
          params: { path: { clusterId: cluster.id } },
          body: { reason, version: cluster.version },
        }),
      ),
    (row) => {
      close();
      focusList();
      return `${row.name} gets no page.`;
    },
  );
  return (
    <ReasonForm
      question="Why no page?"
      placeholder="such as: we do not sell these"
      act="Decline"
      busy={decline.isPending}
      fault={decline.error instanceof ApiError ? decline.error.message : undefined}
      submit={decline.mutate}
      close={close}
    />
  );
}

export function PlanPage({ mapping, close }: { mapping: Schema['MappingView']; close: () => void }) {
  const [url, setUrl] = useState(mapping.proposedUrl);
  const [workingTitle, setWorkingTitle] = useState(mapping.proposedTitle);
  const [form, setForm] = useState(mapping.proposedForm);
  const [topicId, setTopicId] = useState(mapping.cluster.topicId);
  const plan = useFormChange(
    () =>
      answer(
        api.POST('/api/page-map/{clusterId}/planned', {
          params: { path: { clusterId: mapping.cluster.id } },
          body: { url, workingTitle, form, topicId, version: mapping.cluster.version },
        }),
      ),
    (row) => {
      close();
      focusList();
      return `${row.pageUrl} is planned.`;
    },
  );
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        plan.mutate(undefined);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        close();
        focusList();
      }}
    >
      <label>
        <span>Address of the new page</span>
        <Input
          autoFocus
          value={url}
          onChange={(event) => setUrl(event.target.value)}
          status={plan.isError ? 'error' : undefined}
        />
        {plan.error instanceof ApiError && <div className={ui.fault}>{plan.error.message}</div>}
      </label>
      <label>
        <span>Working title</span>
        <Input value={workingTitle} onChange={(event) => setWorkingTitle(event.target.value)} />
      </label>
      <label>
        <span>What kind of page</span>
        <Select className={ui.full} value={form} options={forms} onChange={setForm} aria-label="What kind of page" />
      </label>
      <label>
        <span>Topic it belongs to</span>
        <TopicSelect
          label="Topic it belongs to"
          placeholder="none"
          value={topicId}
          name={mapping.cluster.topicName}
          onChange={setTopicId}
        />
      </label>
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" loading={plan.isPending}>
          Plan this page
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </form>
  );
}

const forms: { value: Schema['PageForm']; label: string }[] = [
  { value: 'guide', label: 'guide' },
  { value: 'comparison', label: 'comparison' },
  { value: 'category', label: 'category' },
  { value: 'product', label: 'product' },
  { value: 'answer', label: 'answer to a question' },
  { value: 'other', label: 'something else' },
];

export function OtherPage({
  host,
  assign,
  close,
}: {
  host: string | undefined;
  assign: (pageId: number) => void;
  close: () => void;
}) {
  const [search, setSearch] = useState('');
  const pages = useQuery({
    queryKey: keyOf('other-pages', search),
    queryFn: () => answer(api.GET('/api/pages', { params: { query: { Search: search, Limit: 30, Sort: 'url' } } })),
  });
  return (
    <div className={ui.form}>
      <label>
        <span>Any page of the site, existing or planned</span>
        <Select
          autoFocus
          defaultOpen
          showSearch={{ filterOption: false, onSearch: setSearch }}
          className={ui.full}
          placeholder="search by address or title"
          notFoundContent={pages.isFetching ? 'Reading…' : 'No page fits.'}
          options={
            pages.data?.rows.map((p) => ({ value: p.id, label: `${shortUrl(p.url, host)}  ${p.title ?? ''}` })) ?? []
          }
          onSelect={(id: number) => {
            assign(id);
            close();
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Escape') return;
            close();
            focusList();
          }}
        />
      </label>
    </div>
  );
}
