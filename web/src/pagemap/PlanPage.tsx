import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { focusList } from '../app/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { TopicSelect } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

export const DeclineForm = ({ cluster, close }: { cluster: Schema['ClusterRow']; close: () => void }) => (
  <ReasonForm
    question="Why no page?"
    placeholder="such as: we do not sell these"
    act="Decline"
    change={(reason) =>
      answer(
        api.POST('/api/page-map/{clusterId}/decline', {
          params: { path: { clusterId: cluster.id } },
          body: { reason, version: cluster.version },
        }),
      )
    }
    done={(row) => {
      close();
      focusList();
      return `${row.name} gets no page.`;
    }}
    close={close}
  />
);

export const PlanPage = ({ mapping, close }: { mapping: Schema['MappingView']; close: () => void }) => (
  <ChangeForm
    values={{
      url: mapping.proposedUrl,
      workingTitle: mapping.proposedTitle,
      form: mapping.proposedForm,
      topicId: mapping.cluster.topicId,
    }}
    change={(form) =>
      answer(
        api.POST('/api/page-map/{clusterId}/planned', {
          params: { path: { clusterId: mapping.cluster.id } },
          body: { ...form, version: mapping.cluster.version },
        }),
      )
    }
    done={(row) => {
      close();
      focusList();
      return `${row.pageUrl} is planned.`;
    }}
    act="Plan this page"
    acts={<Button onClick={close}>Cancel</Button>}
    close={close}
  >
    <Form.Item name="url" label="Address of the new page">
      <Input autoFocus />
    </Form.Item>
    <Form.Item name="workingTitle" label="Working title">
      <Input />
    </Form.Item>
    <Form.Item name="form" label="What kind of page">
      <Select options={forms} />
    </Form.Item>
    <Form.Item name="topicId" label="Topic it belongs to">
      <TopicSelect label="Topic it belongs to" placeholder="none" name={mapping.cluster.topicName} />
    </Form.Item>
  </ChangeForm>
);

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
