import { Button, Dropdown } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { counted, money } from '../pieces/format';
import { draftNames, emptySection } from './says';
import { useBrief } from './useBrief';
import ui from '../pieces/ui.module.css';

type Written = Schema['WrittenText'];

/** Texts of the drafting service: what one costs, those that wait to be decided on, and those that were accepted. */
export function DraftPart({
  view,
  section,
}: {
  view: Schema['BriefView'];
  section: Schema['OutlineSection'] | undefined;
}) {
  const { brief, edits, row, drafting } = view;
  const { edit } = useBrief(view);
  const ask = useChange(
    (body: Schema['AskDraftRequest']) =>
      answer(api.POST('/api/briefs/{id}/draft', { params: { path: { id: row.id } }, body })),
    (drafted) => `${counted(drafted.texts.length, 'text')} to choose from. None is used until you accept it.`,
  );
  const written = edits.written ?? [];
  const without = (text: Written) => written.filter((w) => w !== text);
  const accept = (text: Written) => {
    if (text.kind === 'title' || text.kind === 'description')
      edit({ [text.kind]: text.text, written: written.filter((w) => w.isAccepted || w.kind !== text.kind) });
    else if (text.kind === 'outline')
      edit({
        outline: text.text
          .split('\n')
          .filter((line) => line.trim() !== '')
          .map((line) => {
            const heading = line.trim();
            const known = brief.outline.sections.find((s) => s.heading === heading);
            return known
              ? {
                  level: known.level,
                  heading,
                  keywords: known.keywords.map((k) => brief.keywords[k]!.phrase),
                  questions: known.questions.map((q) => brief.questions[q]!),
                  terms: known.terms.map((t) => brief.terms[t]!.text),
                }
              : emptySection(heading);
          }),
        written: written.filter((w) => w.isAccepted || w.kind !== 'outline'),
      });
    else
      edit({
        written: [...written.filter((w) => w.kind !== text.kind || w.for !== text.for), { ...text, isAccepted: true }],
      });
  };
  const wishes: { key: string; label: string; body: Schema['AskDraftRequest'] }[] = [
    ...(['title', 'description', 'outline', 'introduction'] as const).map((kind) => ({
      key: kind,
      label: draftNames[kind],
      body: { kind },
    })),
    ...(section
      ? [
          {
            key: 'section',
            label: `Text of “${section.heading}”`,
            body: { kind: 'section' as const, for: section.heading },
          },
        ]
      : []),
    ...brief.questions.map((question) => ({
      key: `answer ${question}`,
      label: `Answer: ${question}`,
      body: { kind: 'answer' as const, for: question },
    })),
  ];
  return (
    <>
      {!drafting ? (
        <p className={ui.quiet}>
          No address is given for the drafting service. Everything here works without it; one can be given under
          “Services” on the Site screen.
        </p>
      ) : (
        <>
          <p>
            A request costs {money(drafting.price, drafting.currency)}. What comes back is marked as drafted, and is in
            no file until you accept it.
          </p>
          <div className={ui.acts}>
            <Dropdown
              trigger={['click']}
              menu={{
                items: wishes.map(({ key, label }) => ({ key, label })),
                onClick: ({ key }) => {
                  const wish = wishes.find((w) => w.key === key);
                  if (wish) ask.mutate(wish.body);
                },
              }}
            >
              <Button loading={ask.isPending}>Ask for a draft, {money(drafting.price, drafting.currency)}</Button>
            </Dropdown>
          </div>
        </>
      )}
      {written.map((text) => (
        <div key={`${text.kind} ${text.for} ${text.text}`}>
          <h3>
            {draftNames[text.kind]}
            {text.for && `: ${text.for}`} <span className={ui.quiet}>{text.isAccepted ? 'accepted' : 'drafted'}</span>
          </h3>
          <p className={ui.preLine}>{text.text}</p>
          <div className={ui.acts}>
            {!text.isAccepted && (
              <Button size="small" onClick={() => accept(text)}>
                Accept
              </Button>
            )}
            <Button size="small" type="text" onClick={() => edit({ written: without(text) })}>
              {text.isAccepted ? 'Take out' : 'Discard'}
            </Button>
          </div>
        </div>
      ))}
    </>
  );
}
