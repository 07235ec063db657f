import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input, Select } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { words as served } from '../api/words';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
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

const Brands = ({ brands }: { brands: string[] }) => (
  <>
    <h2>Brands and sellers of others</h2>
    <p>Keywords with one of these names can be left out by the condition “brands and sellers”.</p>
    <ChangeForm
      values={{ names: brands.join('\n') }}
      change={({ names }) => answer(api.PUT('/api/settings/brands', { body: words(names) }))}
      done={() => 'Saved.'}
      act="Save the names"
      isSmall
    >
      <Form.Item name="names">
        <Input.TextArea rows={4} aria-label="Brands and sellers, one a line" placeholder="one a line" />
      </Form.Item>
    </ChangeForm>
    <hr />
  </>
);

type RuleFields = { name: string; intent: Schema['Intent'] } & Texts;
const newRule: RuleFields = { name: 'new rule', intent: 'informational', ...textsOf({}) };

const Rules = ({ settings, close }: { settings: Schema['SettingsView']; close: () => void }) => (
  <>
    <h2>Intent</h2>
    <p>
      What a source says always counts. Where none says anything, the first rule with a word in the phrase decides;
      before them all, the own brand means navigational, and after them all, a brand of others means commercial.
    </p>
    <ChangeForm
      values={{
        rules: settings.intentRules.map((r): RuleFields => ({ name: r.name, intent: r.intent, ...textsOf(r) })),
      }}
      change={({ rules }) =>
        answer(
          api.PUT('/api/settings/intents', {
            body: rules.map((rule) => ({ name: rule.name, intent: rule.intent, ...listsOf(rule) })),
          }),
        )
      }
      done={() => 'Saved. Intents updated.'}
      act="Save the rules"
      acts={
        <Button size="small" onClick={close}>
          Close
        </Button>
      }
      isSmall
    >
      <Form.List name="rules">
        {(rules, { add, remove }) => (
          <>
            {rules.map(({ key, name }) => (
              <div key={key} className={ui.candidate}>
                <div className={ui.line}>
                  <Form.Item name={[name, 'name']} noStyle>
                    <Input aria-label={`Name of rule ${name + 1}`} />
                  </Form.Item>
                  <Form.Item name={[name, 'intent']} noStyle>
                    <Select
                      className={styles.intentSelect}
                      aria-label={`Intent of rule ${name + 1}`}
                      options={served.intents.map((w) => ({ value: w.value, label: w.name }))}
                    />
                  </Form.Item>
                  <button type="button" className={`${ui.chip} ${ui.quiet}`} onClick={() => remove(name)}>
                    delete
                  </button>
                </div>
                <WordFields of={`rule ${name + 1}`} within={[name]} />
              </div>
            ))}
            <Button size="small" className={ui.start} onClick={() => add(newRule)}>
              Add a rule
            </Button>
          </>
        )}
      </Form.List>
    </ChangeForm>
    <hr />
  </>
);

function QuestionWords({ settings }: { settings: Schema['SettingsView'] }) {
  const reset = useChange(
    () => answer(api.DELETE('/api/settings/intents')),
    () => 'The rules and question words of the language are used.',
  );
  return (
    <>
      <h2>Questions</h2>
      <p>A keyword with one of these words, and more than that, is a question.</p>
      <ChangeForm
        values={textsOf(settings.questions)}
        change={(texts) => answer(api.PUT('/api/settings/questions', { body: listsOf(texts) }))}
        done={() => 'Saved. Questions updated.'}
        act="Save the question words"
        acts={
          settings.areOwnRules && (
            <Button size="small" loading={reset.isPending} onClick={() => reset.mutate(undefined)}>
              Use the language’s own words
            </Button>
          )
        }
        isSmall
      >
        <WordFields of="questions" within={[]} />
      </ChangeForm>
    </>
  );
}

/** The four fields for where words must stand. `within` is the path of the object in the form that holds them. */
const WordFields = ({ of, within }: { of: string; within: number[] }) => (
  <div className={styles.wordFields}>
    {places.map(({ name, label }) => (
      <Form.Item
        key={name}
        name={[...within, name]}
        label={label}
        layout="horizontal"
        labelCol={{ flex: '70px' }}
        labelAlign="left"
        colon={false}
      >
        <Input.TextArea autoSize={{ minRows: 1, maxRows: 5 }} aria-label={`Words of ${of}, ${label}`} />
      </Form.Item>
    ))}
  </div>
);
