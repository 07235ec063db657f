import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { type Schema } from '../api/client';
import styles from './briefs.module.css';
import ui from '../pieces/ui.module.css';
import { type View } from './BriefWork';

/** What kind of page it should be. */
export function PageType({ view, choose }: { view: View; choose: (type: string) => void }) {
  const types = [...new Set([view.brief.pageType, ...view.brief.ranking.map((r) => r.type)])].filter(Boolean);
  return (
    <Select
      aria-label="Kind of page"
      className={ui.medium}
      value={view.brief.pageType}
      options={types.map((value) => ({ value, label: value }))}
      onChange={choose}
    />
  );
}

/** What a section is for, and where else it is. */
export function Serves({
  section,
  serves,
  isLacking,
}: {
  section: Schema['OutlineSection'];
  serves: Schema['EditedSection'];
  isLacking: boolean;
}) {
  const parts = [
    { says: [...serves.keywords, ...serves.questions].join(', '), className: undefined },
    { says: serves.terms.join(', '), className: styles.terms },
    { says: isLacking ? 'missing on ours' : '', className: 'clay' },
    {
      says: section.pages > 0 ? '' : section.isOurs ? 'only ours' : 'on none of the ranking pages',
      className: 'quiet',
    },
  ].filter((p) => p.says !== '');
  return (
    <span className={styles.serves}>
      {parts.map((p, i) => (
        <span key={p.says} className={p.className}>
          {i > 0 && ' · '}
          {p.says}
        </span>
      ))}
    </span>
  );
}

const kindNames = { title: 'Title', description: 'Description', h1: 'H1' } as const;

/** A proposed text: one click shows the next alternative, another edits it. */
export function TitleLine({
  kind,
  texts,
  choose,
}: {
  kind: keyof typeof kindNames;
  texts: readonly Schema['TitleText'][];
  choose: (text: string) => void;
}) {
  const [writing, setWriting] = useState(false);
  const first = texts[0];
  return (
    <div className={styles.title}>
      <span className={ui.quiet}>{kindNames[kind]}</span>
      {writing ? (
        <Input
          autoFocus
          aria-label={kindNames[kind]}
          defaultValue={first?.text ?? ''}
          onPressEnter={(event) => {
            const text = event.currentTarget.value.trim();
            setWriting(false);
            if (text && text !== first?.text) choose(text);
          }}
          onKeyDown={(event) => event.key === 'Escape' && setWriting(false)}
          onBlur={() => setWriting(false)}
        />
      ) : (
        <button className={styles.text} title="Edit" onClick={() => setWriting(true)}>
          {first?.text ?? 'none yet'}
        </button>
      )}
      <span className={first?.isTooLong ? ui.clay : ui.quiet}>
        {first && (kind === 'h1' ? `${first.characters} characters` : `${Math.round(first.pixels)} px`)}
        {first?.isTooLong && ', is cut off'}
      </span>
      <Button size="small" type="text" disabled={texts.length < 2} onClick={() => choose(texts[1]!.text)}>
        Next of {texts.length}
      </Button>
    </div>
  );
}
