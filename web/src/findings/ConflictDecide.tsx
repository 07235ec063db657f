import { Button, Input, Radio } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, ApiError } from '../api/client';
import { useChange, useFormChange } from '../api/hooks';
import { shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';
import styles from './findings.module.css';
import chartsStyles from '../pieces/charts.module.css';
import { type View, type Decision } from './ConflictScreen';

const decisions: { value: Decision; says: string; does: string; needsNote?: boolean; alone?: boolean }[] = [
  { value: 'redirect', says: 'Keep one, redirect the others', does: 'their addresses lead to the kept page' },
  { value: 'merge', says: 'Merge', does: 'the texts come together on the kept page; the others lead to it' },
  {
    value: 'newTarget',
    says: 'Give the others a new target',
    does: 'they get searches of their own and stop chasing these',
    alone: true,
  },
  { value: 'canonical', says: 'Make one canonical', does: 'all stay, and the others name the kept page as canonical' },
  { value: 'link', says: 'Link', does: 'the others link to the kept page, with words of these searches', alone: true },
  {
    value: 'deliberate',
    says: 'Deliberate',
    does: 'all are wanted as they are; they raise nothing any more',
    needsNote: true,
  },
  { value: 'leave', says: 'Leave it as it is', does: 'this finding is dismissed', needsNote: true, alone: true },
];

export function Decide({ view, host }: { view: View; host: string | undefined }) {
  const { finding, pages, step } = view;
  const navigate = useNavigate();
  const [decision, setDecision] = useState<Decision | undefined>(step?.remedy ?? undefined);
  const [keep, setKeep] = useState<number | undefined>(step?.pageId ?? pages[0]?.page.id);
  const [note, setNote] = useState(step?.note ?? '');
  const chosen = decisions.find((d) => d.value === decision);
  const back = () => void navigate(`/findings?id=${encodeURIComponent(finding.key)}`);
  const decide = useFormChange(
    () =>
      answer(
        api.POST('/api/conflicts/{key}/decision', {
          params: { path: { key: finding.key } },
          body: { decision: decision!, keepPageId: keep ?? null, note, version: finding.version },
        }),
      ),
    (row) => {
      back();
      return row.remedyName ? `Decided: ${row.remedyName}. It is a step of the plan now.` : 'Decided.';
    },
  );
  const takeBack = useChange(
    () => answer(api.DELETE('/api/conflicts/{key}/decision', { params: { path: { key: finding.key } } })),
    () => {
      setDecision(undefined);
      setNote('');
      return 'Decision withdrawn; the finding is open again.';
    },
  );
  const possible = decisions.filter((d) => pages.length > 1 || d.alone);
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        if (decision) decide.mutate(undefined);
      }}
      onKeyDown={(event) => {
        const at = Number(event.key);
        if (!(event.target instanceof HTMLInputElement && event.target.type === 'text') && possible[at - 1])
          setDecision(possible[at - 1]!.value);
      }}
    >
      <h2>Decide</h2>
      {view.signs.map((sentence) => (
        <p key={sentence} className={ui.wrap}>
          {sentence}
        </p>
      ))}
      {step && (
        <p>
          Decided already: <b>{step.remedyName}</b>.{' '}
          {step.waits ? 'It resolves itself with the next scan or data.' : 'Its cause has gone.'}{' '}
          <button type="button" className={ui.chip} onClick={() => takeBack.mutate(undefined)}>
            take it back
          </button>
        </p>
      )}
      <Radio.Group
        className={styles.choices}
        value={decision}
        onChange={(event) => setDecision(event.target.value as Decision)}
        aria-label="Decision"
      >
        {possible.map((d, i) => (
          <Radio key={d.value} value={d.value}>
            <kbd>{i + 1}</kbd> <b>{d.says}</b>
            <div className={ui.second}>{d.does}</div>
          </Radio>
        ))}
      </Radio.Group>
      {pages.length > 1 && decision !== 'deliberate' && decision !== 'leave' && (
        <label>
          <span>{decision === 'newTarget' ? 'Which page keeps these searches?' : 'Which page is kept?'}</span>
          <Radio.Group
            className={styles.choices}
            value={keep}
            onChange={(event) => setKeep(event.target.value as number)}
            aria-label="Which page is kept"
          >
            {pages.map((p, i) => (
              <Radio key={p.page.id} value={p.page.id}>
                <span className={`${chartsStyles.swatch} ${chartsStyles[`s${i}`]}`} aria-hidden />{' '}
                {shortUrl(p.page.url, host)}
              </Radio>
            ))}
          </Radio.Group>
        </label>
      )}
      <label>
        <span>{chosen?.needsNote ? 'Why?' : 'Note, for whoever does it'}</span>
        <Input.TextArea rows={2} value={note} maxLength={2000} onChange={(event) => setNote(event.target.value)} />
        {decide.error instanceof ApiError && <div className={ui.fault}>{decide.error.message}</div>}
      </label>
      <div className={ui.acts}>
        <Button
          type="primary"
          htmlType="submit"
          loading={decide.isPending}
          disabled={!decision || (chosen?.needsNote && note.trim() === '')}
        >
          Decide
        </Button>
        <Button onClick={back}>Back</Button>
      </div>
    </form>
  );
}
