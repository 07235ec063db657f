import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input, Select } from 'antd';
import { useState, type ReactNode } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { briefEvidence } from '../api/evidence';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
import { counted, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** Makes briefs of clusters, opens the one that is selected, and holds what all briefs share. */
export function MakePane({
  selected,
  open,
  about,
}: {
  selected: number | undefined;
  open: (id: number) => void;
  /** What is worth knowing of the list, while no brief is selected. */
  about: ReactNode;
}) {
  const [search, setSearch] = useState('');
  const clusters = useQuery({
    queryKey: keyOf('clusters', 'to choose', search),
    queryFn: () => answer(api.GET('/api/clusters', { params: { query: { Search: search || undefined, Limit: 50 } } })),
  });
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) });
  return (
    <>
      {selected !== undefined ? <Selected id={selected} open={open} /> : about}
      <h2>Make briefs</h2>
      <p>
        A brief is made from what is known of a cluster and its ranking pages, by rules. Where these were not read yet,
        the brief says so, and reading them is one click.
      </p>
      <ChangeForm
        values={{ clusterIds: [] as number[] }}
        change={(body) => answer(api.POST('/api/briefs', { body }))}
        done={({ ids }) => {
          if (ids.length === 1 && ids[0] !== undefined) open(ids[0]);
          return `${counted(ids.length, 'brief')} made.`;
        }}
        act={({ clusterIds: { length } }) => (length > 1 ? `Make ${length} briefs` : 'Make the brief')}
        isReady={(form) => form.clusterIds.length > 0}
        clears={['clusterIds']}
      >
        <Form.Item name="clusterIds" label="Clusters">
          <Select<number[]>
            mode="multiple"
            placeholder="search by keyword"
            showSearch={{ filterOption: false, onSearch: setSearch }}
            options={(clusters.data?.rows ?? []).map((c) => ({ value: c.id, label: `${c.name}, ${number(c.demand)}` }))}
          />
        </Form.Item>
      </ChangeForm>
      {settings.data && (
        <>
          <hr />
          <Shared key={JSON.stringify(settings.data.briefs)} settings={settings.data} />
        </>
      )}
    </>
  );
}

function Selected({ id, open }: { id: number; open: (id: number) => void }) {
  const view = useQuery({ ...briefEvidence(id), retry: false });
  const take = useChange(
    () => answer(api.DELETE('/api/briefs/{id}', { params: { path: { id } } })),
    () => 'Brief deleted.',
  );
  if (!view.data) return null;
  const { brief, row, history } = view.data;
  return (
    <>
      <h2>{brief.titles.find((t) => t.kind === 'title')?.text ?? row.primary}</h2>
      <p>{brief.wants}</p>
      <p className={ui.second}>
        {number(brief.keywords.length)} keywords, {number(brief.outline.sections.length)} sections,{' '}
        {number(brief.questions.length)} questions, {number(brief.terms.length)} terms.{' '}
        {history[0] && `Last: ${history[0].says}.`}
      </p>
      <div className={ui.acts}>
        <Button type="primary" onClick={() => open(id)}>
          Open the brief
        </Button>
        <Button loading={take.isPending} onClick={() => take.mutate(undefined)}>
          Delete
        </Button>
      </div>
      <hr />
    </>
  );
}

const intents: readonly (Schema['Intent'] | 'any')[] = ['informational', 'commercial', 'transactional', 'navigational'];

const lines = (text: string) =>
  text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);

/** "informational: {primary} explained", or the pattern alone for any intent. */
const patternOf = (line: string): Schema['TitlePattern'] => {
  const at = line.indexOf(':');
  const name = line.slice(0, Math.max(0, at)).trim();
  return intents.includes(name as Schema['Intent'])
    ? { intent: name as Schema['Intent'], text: line.slice(at + 1).trim() }
    : { intent: null, text: line };
};

/** What all briefs share: tone and audience, phrases that are no terms, and the patterns of titles. */
const Shared = ({ settings: { briefs, capture } }: { settings: Schema['SettingsView'] }) => (
  <>
    <h2>What all briefs share</h2>
    <ChangeForm
      values={{
        notes: briefs.notes,
        ignoredTerms: (briefs.ignoredTerms ?? []).join('\n'),
        patterns: (briefs.patterns ?? []).map((p) => (p.intent ? `${p.intent}: ${p.text}` : p.text)).join('\n'),
        pricePerDraft: briefs.pricePerDraft,
      }}
      change={({ ignoredTerms, patterns, ...others }) =>
        answer(
          api.PUT('/api/settings/briefs', {
            body: { ...others, ignoredTerms: lines(ignoredTerms), patterns: lines(patterns).map(patternOf) },
          }),
        )
      }
      done={() => 'Saved. Briefs follow it when their facts are updated.'}
      act="Save"
      isPlain
    >
      <Form.Item name="notes" label="Notes on tone and audience">
        <Input.TextArea autoSize={{ minRows: 2, maxRows: 6 }} />
      </Form.Item>
      <Form.Item name="ignoredTerms" label="Phrases that are no terms, one a line">
        <Input.TextArea autoSize={{ minRows: 2, maxRows: 8 }} />
      </Form.Item>
      <Form.Item
        name="patterns"
        label="Patterns of titles, one a line"
        extra={
          '{primary} is the primary keyword, {more} what the others have beside it, {site} the usual ending of titles. ' +
          'An intent before a colon keeps a pattern for keywords of that intent.'
        }
      >
        <Input.TextArea autoSize={{ minRows: 4, maxRows: 10 }} />
      </Form.Item>
      <Form.Item name="pricePerDraft" label={`Price of a request to the drafting service, ${capture.currency}`}>
        <NumberField min={0} max={1000} step={0.01} />
      </Form.Item>
    </ChangeForm>
  </>
);
