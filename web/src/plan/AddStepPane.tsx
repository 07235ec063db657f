import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { shortUrl } from '../pieces/format';
import { words } from '../api/words';

type Kind = Schema['StepKind'];

/** Kinds of steps that are about a second page, with what it is called. */
const others: Partial<Record<Kind, string>> = {
  merge: 'The page whose text it takes in',
  redirect: 'The page that it redirects to',
  canonical: 'The page that it names as its canonical',
  link: 'The page that it links to',
};

/** A step that no finding asks for. */
export function AddStepPane({
  host,
  added,
  close,
}: {
  host: string | undefined;
  added: (id: number) => void;
  close: () => void;
}) {
  return (
    <ChangeForm
      values={{
        kind: 'refresh' as Kind,
        pageId: undefined as number | undefined,
        otherPageId: undefined as number | undefined,
        note: '',
      }}
      change={({ kind, pageId, otherPageId, note }) =>
        answer(
          api.POST('/api/plan/steps', {
            body: { kind, pageId: pageId!, otherPageId: others[kind] ? (otherPageId ?? null) : null, note },
          }),
        )
      }
      done={(step) => {
        added(step.id);
        return 'Added to the plan.';
      }}
      act="Add"
      acts={<Button onClick={close}>Close</Button>}
      isReady={(form) => form.pageId !== undefined}
    >
      {({ kind }) => (
        <>
          <h2>Add a step</h2>
          <p>Where the page has an open step already, this becomes a part of it.</p>
          <Form.Item name="kind" label="What">
            <Select<Kind> options={words.stepKinds.map((k) => ({ value: k.value, label: k.name }))} />
          </Form.Item>
          <Form.Item name="pageId" label="Page">
            <PageSelect host={host} />
          </Form.Item>
          {others[kind] && (
            <Form.Item name="otherPageId" label={others[kind]}>
              <PageSelect host={host} />
            </Form.Item>
          )}
          <Form.Item name="note" label="What is to be done">
            <Input />
          </Form.Item>
        </>
      )}
    </ChangeForm>
  );
}

/** A page of the site, found by its address or title. */
function PageSelect({
  host,
  ...field
}: {
  host: string | undefined;
  id?: string;
  value?: number;
  onChange?: (id: number) => void;
}) {
  const [search, setSearch] = useState('');
  const pages = useQuery({
    queryKey: keyOf('pages', 'to choose', search),
    queryFn: () => answer(api.GET('/api/pages', { params: { query: { Search: search || undefined, Limit: 30 } } })),
  });
  return (
    <Select<number>
      {...field}
      showSearch={{ filterOption: false, onSearch: setSearch }}
      placeholder="search by address or title"
      options={(pages.data?.rows ?? []).map((p) => ({ value: p.id, label: shortUrl(p.url, host) }))}
    />
  );
}
