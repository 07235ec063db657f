import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { shortUrl } from '../pieces/format';
import { words } from '../api/words';
import ui from '../pieces/ui.module.css';

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
  const [kind, setKind] = useState<Kind>('refresh');
  const [page, setPage] = useState<number>();
  const [other, setOther] = useState<number>();
  const [note, setNote] = useState('');
  const add = useFormChange(
    () =>
      answer(
        api.POST('/api/plan/steps', {
          body: { kind, pageId: page!, otherPageId: others[kind] ? (other ?? null) : null, note },
        }),
      ),
    (step) => {
      added(step.id);
      return 'Added to the plan.';
    },
  );
  const fault = add.error instanceof ApiError ? add.error.message : undefined;
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        if (page !== undefined) add.mutate(undefined);
      }}
    >
      <h2>Add a step</h2>
      <p>Where the page has an open step already, this becomes a part of it.</p>
      <label>
        <span>What</span>
        <Select<Kind>
          aria-label="What"
          value={kind}
          options={words.stepKinds.map((k) => ({ value: k.value, label: k.name }))}
          onChange={setKind}
        />
      </label>
      <PageSelect label="Page" host={host} value={page} onChange={setPage} />
      {others[kind] && <PageSelect label={others[kind]} host={host} value={other} onChange={setOther} />}
      <label>
        <span>What is to be done</span>
        <Input aria-label="What is to be done" value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      {fault && <div className={ui.fault}>{fault}</div>}
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" disabled={page === undefined} loading={add.isPending}>
          Add
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </form>
  );
}

/** A page of the site, found by its address or title. */
function PageSelect({
  label,
  host,
  value,
  onChange,
}: {
  label: string;
  host: string | undefined;
  value: number | undefined;
  onChange: (id: number) => void;
}) {
  const [search, setSearch] = useState('');
  const pages = useQuery({
    queryKey: keyOf('pages', 'to choose', search),
    queryFn: () => answer(api.GET('/api/pages', { params: { query: { Search: search || undefined, Limit: 30 } } })),
  });
  return (
    <label>
      <span>{label}</span>
      <Select<number>
        aria-label={label}
        showSearch={{ filterOption: false, onSearch: setSearch }}
        placeholder="search by address or title"
        value={value ?? null}
        options={(pages.data?.rows ?? []).map((p) => ({ value: p.id, label: shortUrl(p.url, host) }))}
        onChange={onChange}
      />
    </label>
  );
}
