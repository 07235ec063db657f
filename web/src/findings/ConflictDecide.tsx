import { useEffect } from 'react';
import { Button, Form, Input, Radio } from 'antd';
import { useNavigate } from 'react-router';
import { isTyping } from '../app/keys';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { ChangeForm } from '../pieces/ChangeForm';
import { shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';
import styles from './findings.module.css';
import chartsStyles from '../pieces/charts.module.css';
import { type View, type Decision } from './ConflictScreen';

const decisions: { value: Decision; says: string; does: string; alone?: boolean }[] = [
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
  },
  { value: 'leave', says: 'Leave it as it is', does: 'this finding is dismissed', alone: true },
];

/** Decisions to leave things as they are, which want a reason. */
const needsNote: Decision[] = ['deliberate', 'leave'];

export function Decide({ view, host }: { view: View; host: string | undefined }) {
  const { finding, pages, step } = view;
  const navigate = useNavigate();
  const back = () => void navigate(`/findings?id=${encodeURIComponent(finding.key)}`);
  const takeBack = useChange(
    () => answer(api.DELETE('/api/conflicts/{key}/decision', { params: { path: { key: finding.key } } })),
    () => 'Decision withdrawn; the finding is open again.',
  );
  const possible = decisions.filter((d) => pages.length > 1 || d.alone);
  return (
    <ChangeForm
      // The fields start over when the decision is taken back.
      key={String(step === null)}
      values={{
        decision: (step?.remedy ?? undefined) as Decision | undefined,
        keepPageId: step?.pageId ?? pages[0]?.page.id,
        note: step?.note ?? '',
      }}
      change={({ decision, keepPageId, note }) =>
        answer(
          api.POST('/api/conflicts/{key}/decision', {
            params: { path: { key: finding.key } },
            body: { decision: decision!, keepPageId: keepPageId ?? null, note, version: finding.version },
          }),
        )
      }
      done={(row) => {
        back();
        return row.remedyName ? `Decided: ${row.remedyName}. It is a step of the plan now.` : 'Decided.';
      }}
      act="Decide"
      acts={<Button onClick={back}>Back</Button>}
      isReady={({ decision, note }) => decision !== undefined && !(needsNote.includes(decision) && note.trim() === '')}
    >
      {({ decision }) => (
        <>
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
          <Form.Item name="decision">
            <Choices possible={possible} />
          </Form.Item>
          {pages.length > 1 && decision !== 'deliberate' && decision !== 'leave' && (
            <Form.Item
              name="keepPageId"
              label={decision === 'newTarget' ? 'Which page keeps these searches?' : 'Which page is kept?'}
            >
              <Radio.Group className={styles.choices} aria-label="Which page is kept">
                {pages.map((p, i) => (
                  <Radio key={p.page.id} value={p.page.id}>
                    <span className={`${chartsStyles.swatch} ${chartsStyles[`s${i}`]}`} aria-hidden />{' '}
                    {shortUrl(p.page.url, host)}
                  </Radio>
                ))}
              </Radio.Group>
            </Form.Item>
          )}
          <Form.Item
            name="note"
            label={decision && needsNote.includes(decision) ? 'Why?' : 'Note, for whoever does it'}
          >
            <Input.TextArea rows={2} maxLength={2000} />
          </Form.Item>
        </>
      )}
    </ChangeForm>
  );
}

/** The decisions that can be made, chosen by clicking or by their numbers. */
function Choices({
  possible,
  value,
  onChange,
}: {
  possible: typeof decisions;
  value?: Decision;
  onChange?: (decision: Decision) => void;
}) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const chosen = possible[Number(event.key) - 1];
      if (chosen && !isTyping(event.target) && !event.ctrlKey && !event.metaKey && !event.altKey)
        onChange?.(chosen.value);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [possible, onChange]);
  return (
    <Radio.Group
      className={styles.choices}
      value={value}
      onChange={(event) => onChange?.(event.target.value as Decision)}
      aria-label="Decision"
    >
      {possible.map((d, i) => (
        <Radio key={d.value} value={d.value}>
          <kbd>{i + 1}</kbd> <b>{d.says}</b>
          <div className={ui.second}>{d.does}</div>
        </Radio>
      ))}
    </Radio.Group>
  );
}
