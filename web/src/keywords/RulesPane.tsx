import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange } from '../api/hooks';
import { words as served } from '../api/words';
import { keyOf } from '../api/keys';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';
import styles from './keywords.module.css';

const words = (text: string) =>
  text
    .split(/[,\n]/)
    .map((w) => w.trim())
    .filter((w) => w !== '');

/** Where words must stand to count, as they are edited: separated by commas. */
const places = [
  { name: 'words', label: 'anywhere' },
  { name: 'first', label: 'first' },
  { name: 'last', label: 'last' },
  { name: 'except', label: 'not in' },
] as const;
type Texts = Record<(typeof places)[number]['name'], string>;

const textsOf = (of: Schema['QuestionWords']): Texts => ({
  words: (of.words ?? []).join(', '),
  first: (of.first ?? []).join(', '),
  last: (of.last ?? []).join(', '),
  except: (of.except ?? []).join(', '),
});
const listsOf = (texts: Texts) => ({
  words: words(texts.words),
  first: words(texts.first),
  last: words(texts.last),
  except: words(texts.except),
});

/** Brands and sellers that can be left out, and the rules that tell an intent or a question from a phrase: to be read and edited. */
export function RulesPane({ close }: { close: () => void }) {
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) });
  if (settings.isError) return <Failed error={settings.error} retry={() => void settings.refetch()} />;
  if (!settings.data) return <Reading />;
  // The form starts over when the rules are reset to the language's.
  return (
    <>
      <Brands brands={settings.data.otherBrands} />
      <Rules key={JSON.stringify(settings.data.intentRules)} settings={settings.data} close={close} />
      <QuestionWords key={JSON.stringify(settings.data.questions)} settings={settings.data} />
    </>
  );
}

function Brands({ brands }: { brands: string[] }) {
  const [text, setText] = useState(brands.join('\n'));
  const save = useChange(
    () => answer(api.PUT('/api/settings/brands', { body: words(text) })),
    () => 'Saved.',
  );
  return (
    <>
      <h2>Brands and sellers of others</h2>
      <p>Keywords with one of these names can be left out by the condition “brands and sellers”.</p>
      <Input.TextArea
        rows={4}
        aria-label="Brands and sellers, one a line"
        placeholder="one a line"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <div className={ui.acts}>
        <Button type="primary" size="small" loading={save.isPending} onClick={() => save.mutate(undefined)}>
          Save the names
        </Button>
      </div>
      <hr />
    </>
  );
}

function Rules({ settings, close }: { settings: Schema['SettingsView']; close: () => void }) {
  const [rules, setRules] = useState(settings.intentRules.map((rule) => ({ ...rule, texts: textsOf(rule) })));
  const save = useFormChange(
    () =>
      answer(
        api.PUT('/api/settings/intents', {
          body: rules.map(({ name, intent, texts }) => ({ name, intent, ...listsOf(texts) })),
        }),
      ),
    () => 'Saved. Intents updated.',
  );
  const change = (at: number, changes: Partial<(typeof rules)[number]>) =>
    setRules(rules.map((rule, i) => (i === at ? { ...rule, ...changes } : rule)));
  return (
    <>
      <h2>Intent</h2>
      <p>
        What a source says always counts. Where none says anything, the first rule with a word in the phrase decides;
        before them all, the own brand means navigational, and after them all, a brand of others means commercial.
      </p>
      {rules.map((rule, i) => (
        <div key={i} className={ui.candidate}>
          <div className={ui.line}>
            <Input
              size="small"
              aria-label={`Name of rule ${i + 1}`}
              value={rule.name}
              onChange={(e) => change(i, { name: e.target.value })}
            />
            <Select
              size="small"
              className={styles.intentSelect}
              aria-label={`Intent of rule ${i + 1}`}
              value={rule.intent}
              options={served.intents.map((w) => ({ value: w.value, label: w.name }))}
              onChange={(intent) => change(i, { intent })}
            />
            <button className={`${ui.chip} ${ui.quiet}`} onClick={() => setRules(rules.filter((_, at) => at !== i))}>
              delete
            </button>
          </div>
          <WordFields of={`rule ${i + 1}`} texts={rule.texts} change={(texts) => change(i, { texts })} />
        </div>
      ))}
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
      <div className={ui.acts}>
        <Button type="primary" size="small" loading={save.isPending} onClick={() => save.mutate(undefined)}>
          Save the rules
        </Button>
        <Button
          size="small"
          onClick={() =>
            setRules([...rules, { name: 'new rule', intent: 'informational', words: [], texts: textsOf({}) }])
          }
        >
          Add a rule
        </Button>
        <Button size="small" onClick={close}>
          Close
        </Button>
      </div>
      <hr />
    </>
  );
}

function QuestionWords({ settings }: { settings: Schema['SettingsView'] }) {
  const [texts, setTexts] = useState(textsOf(settings.questions));
  const save = useChange(
    () => answer(api.PUT('/api/settings/questions', { body: listsOf(texts) })),
    () => 'Saved. Questions updated.',
  );
  const reset = useChange(
    () => answer(api.DELETE('/api/settings/intents')),
    () => 'The rules and question words of the language are used.',
  );
  return (
    <>
      <h2>Questions</h2>
      <p>A keyword with one of these words, and more than that, is a question.</p>
      <div className={ui.candidate}>
        <WordFields of="questions" texts={texts} change={setTexts} />
      </div>
      <div className={ui.acts}>
        <Button type="primary" size="small" loading={save.isPending} onClick={() => save.mutate(undefined)}>
          Save the question words
        </Button>
        {settings.areOwnRules && (
          <Button size="small" loading={reset.isPending} onClick={() => reset.mutate(undefined)}>
            Use the language’s own words
          </Button>
        )}
      </div>
    </>
  );
}

function WordFields({ of, texts, change }: { of: string; texts: Texts; change: (texts: Texts) => void }) {
  return (
    <div className={styles.wordFields}>
      {places.map(({ name, label }) => (
        <label key={name}>
          <span>{label}</span>
          <Input.TextArea
            autoSize={{ minRows: 1, maxRows: 5 }}
            aria-label={`Words of ${of}, ${label}`}
            value={texts[name]}
            onChange={(e) => change({ ...texts, [name]: e.target.value })}
          />
        </label>
      ))}
    </div>
  );
}
