import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange } from '../api/hooks';
import { Failed, Reading } from '../pieces/States';

const intents = ['informational', 'commercial', 'transactional', 'navigational'] as const;
const words = (text: string) =>
  text
    .split(/[,\n]/)
    .map((w) => w.trim())
    .filter((w) => w !== '');

/** Brands and sellers that can be left out, and the rules that tell an intent from a phrase: to be read and edited. */
export function RulesPane({ close }: { close: () => void }) {
  const settings = useQuery({ queryKey: ['settings'], queryFn: () => answer(api.GET('/api/settings')) });
  if (settings.isError) return <Failed error={settings.error} retry={() => void settings.refetch()} />;
  return settings.data ? <Rules settings={settings.data} close={close} /> : <Reading />;
}

function Rules({ settings, close }: { settings: Schema['SettingsView']; close: () => void }) {
  const [brands, setBrands] = useState(settings.otherBrands.join('\n'));
  const [rules, setRules] = useState(settings.intentRules.map((rule) => ({ ...rule, text: rule.words.join(', ') })));
  const saveBrands = useChange(
    () => answer(api.PUT('/api/settings/brands', { body: words(brands) })),
    () => 'Saved.',
  );
  const saveRules = useFormChange(
    () =>
      answer(
        api.PUT('/api/settings/intents', {
          body: rules.map(({ name, intent, text }) => ({ name, intent, words: words(text) })),
        }),
      ),
    () => 'Saved; intents were told again.',
  );
  const change = (at: number, changes: Partial<(typeof rules)[number]>) =>
    setRules(rules.map((rule, i) => (i === at ? { ...rule, ...changes } : rule)));
  return (
    <>
      <h2>Brands and sellers of others</h2>
      <p>Keywords with one of these names can be left out by the condition “brands and sellers”.</p>
      <Input.TextArea
        rows={4}
        aria-label="Brands and sellers, one a line"
        placeholder="one a line"
        value={brands}
        onChange={(e) => setBrands(e.target.value)}
      />
      <div className="acts">
        <Button type="primary" size="small" loading={saveBrands.isPending} onClick={() => saveBrands.mutate(undefined)}>
          Save the names
        </Button>
      </div>
      <hr />
      <h2>How an intent is told</h2>
      <p>
        What a source says always counts. Where none says anything, the first rule with a word that stands in the phrase
        decides; before them all, the own brand means navigational, and after them all, a brand of others means
        commercial.
      </p>
      {rules.map((rule, i) => (
        <div key={i} className="candidate">
          <div className="line">
            <Input
              size="small"
              aria-label={`Name of rule ${i + 1}`}
              value={rule.name}
              onChange={(e) => change(i, { name: e.target.value })}
            />
            <Select
              size="small"
              aria-label={`Intent of rule ${i + 1}`}
              value={rule.intent}
              options={intents.map((value) => ({ value, label: value }))}
              onChange={(intent) => change(i, { intent })}
              style={{ width: 140 }}
            />
            <button className="chip quiet" onClick={() => setRules(rules.filter((_, at) => at !== i))}>
              delete
            </button>
          </div>
          <Input.TextArea
            autoSize={{ minRows: 2, maxRows: 5 }}
            style={{ marginTop: 4 }}
            aria-label={`Words of rule ${i + 1}`}
            value={rule.text}
            onChange={(e) => change(i, { text: e.target.value })}
          />
        </div>
      ))}
      {saveRules.error instanceof ApiError && <div className="fault">{saveRules.error.message}</div>}
      <div className="acts">
        <Button type="primary" size="small" loading={saveRules.isPending} onClick={() => saveRules.mutate(undefined)}>
          Save the rules
        </Button>
        <Button
          size="small"
          onClick={() => setRules([...rules, { name: 'new rule', intent: 'informational', words: [], text: '' }])}
        >
          Add a rule
        </Button>
        <Button size="small" onClick={close}>
          Close
        </Button>
      </div>
    </>
  );
}
