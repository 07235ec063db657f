import { useQuery } from '@tanstack/react-query';
import { Button, Input, InputNumber, Select } from 'antd';
import { useState, type ReactNode } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { briefEvidence } from '../api/evidence';
import { number } from '../pieces/format';
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
  const [chosen, setChosen] = useState<number[]>([]);
  const [search, setSearch] = useState('');
  const clusters = useQuery({
    queryKey: keyOf('clusters', 'to choose', search),
    queryFn: () => answer(api.GET('/api/clusters', { params: { query: { Search: search || undefined, Limit: 50 } } })),
  });
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) });
  const make = useChange(
    () => answer(api.POST('/api/briefs', { body: { clusterIds: chosen } })),
    (answered) => {
      setChosen([]);
      const only = answered.ids.length === 1 ? answered.ids[0] : undefined;
      if (only !== undefined) open(only);
      return `${number(answered.ids.length)} ${answered.ids.length === 1 ? 'brief' : 'briefs'} made.`;
    },
  );
  return (
    <>
      {selected !== undefined ? <Selected id={selected} open={open} /> : about}
      <div className={ui.form}>
        <h2>Make briefs</h2>
        <p>
          A brief is made from what is known of a cluster and its ranking pages, by rules. Where these were not read
          yet, the brief says so, and reading them is one click.
        </p>
        <label>
          <span>Clusters</span>
          <Select<number[]>
            aria-label="Clusters"
            mode="multiple"
            placeholder="search by keyword"
            value={chosen}
            showSearch={{ filterOption: false, onSearch: setSearch }}
            options={(clusters.data?.rows ?? []).map((c) => ({ value: c.id, label: `${c.name}, ${number(c.demand)}` }))}
            onChange={setChosen}
          />
        </label>
        <div className={ui.acts}>
          <Button
            type="primary"
            disabled={chosen.length === 0}
            loading={make.isPending}
            onClick={() => make.mutate(undefined)}
          >
            Make {chosen.length > 1 ? `${chosen.length} briefs` : 'the brief'}
          </Button>
        </div>
      </div>
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
function Shared({ settings }: { settings: Schema['SettingsView'] }) {
  const { briefs, capture } = settings;
  const [notes, setNotes] = useState(briefs.notes);
  const [ignored, setIgnored] = useState((briefs.ignoredTerms ?? []).join('\n'));
  const [patterns, setPatterns] = useState(
    (briefs.patterns ?? []).map((p) => (p.intent ? `${p.intent}: ${p.text}` : p.text)).join('\n'),
  );
  const [price, setPrice] = useState(briefs.pricePerDraft);
  const save = useFormChange(
    () =>
      answer(
        api.PUT('/api/settings/briefs', {
          body: { notes, ignoredTerms: lines(ignored), patterns: lines(patterns).map(patternOf), pricePerDraft: price },
        }),
      ),
    () => 'Saved. Briefs follow it when their facts are updated.',
  );
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(undefined);
      }}
    >
      <h2>What all briefs share</h2>
      <label>
        <span>Notes on tone and audience</span>
        <Input.TextArea
          autoSize={{ minRows: 2, maxRows: 6 }}
          value={notes}
          onChange={(e) => setNotes(e.target.value)}
        />
      </label>
      <label>
        <span>Phrases that are no terms, one a line</span>
        <Input.TextArea
          autoSize={{ minRows: 2, maxRows: 8 }}
          value={ignored}
          onChange={(e) => setIgnored(e.target.value)}
        />
      </label>
      <label>
        <span>Patterns of titles, one a line</span>
        <Input.TextArea
          autoSize={{ minRows: 4, maxRows: 10 }}
          value={patterns}
          onChange={(e) => setPatterns(e.target.value)}
        />
      </label>
      <p className={ui.second}>
        {'{primary} is the primary keyword, {more} what the others have beside it, {site} the usual ending of titles.'}{' '}
        An intent before a colon keeps a pattern for keywords of that intent.
      </p>
      <label>
        <span>Price of a request to the drafting service, {capture.currency}</span>
        <InputNumber min={0} max={1000} step={0.01} value={price} onChange={(value) => setPrice(value ?? 0)} />
      </label>
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
      <div className={ui.acts}>
        <Button htmlType="submit" loading={save.isPending}>
          Save
        </Button>
      </div>
    </form>
  );
}
