import { Button, DatePicker, Dropdown, Input, InputNumber, Popover } from 'antd';
import dayjs from 'dayjs';
import { useState, type KeyboardEvent } from 'react';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { Choice } from '../pieces/FilterSentence';
import { counted, day, number, shortUrl } from '../pieces/format';
import styles from './briefs.module.css';
import { inSentence, words } from '../api/words';
import { emptySection, formats, join, split } from './says';
import { useBrief, useHeadings } from './useBrief';
import ui from '../pieces/ui.module.css';
import { PageType, Serves, TitleLine } from './BriefLines';

export type View = Schema['BriefView'];

const help = [
  { keys: '↑ ↓', does: 'previous section, next section' },
  { keys: 'Alt ↑ ↓', does: 'move the section' },
  { keys: 'Enter', does: 'rename the section' },
  { keys: 'S', does: 'split the section' },
  { keys: 'J', does: 'join it with the next one' },
  { keys: 'H', does: 'save its heading for the topic' },
  { keys: 'Delete', does: 'take the section out' },
  { keys: 'N, D, M', does: 'the next title, description, main heading' },
];

/** One brief: its title, description and heading with their alternatives, and the outline. */
export function BriefWork({
  view,
  section,
  setSection,
  show,
  back,
}: {
  view: View;
  section: number;
  setSection: (section: number) => void;
  show: (what: 'check' | 'compare') => void;
  back: () => void;
}) {
  const host = useProject().data?.project.host;
  const [renaming, setRenaming] = useState<number>();
  const { brief, row, edits } = view;
  useKeyHelp(help);
  const { change, edit, sections, setSections } = useBrief(view);
  const headings = useHeadings(view.topicId);
  const read = useChange(
    () => answer(api.POST('/api/clusters/{id}/read-ranking', { params: { path: { id: row.clusterId } } })),
    () => 'Reading the ranking pages. Update the facts when they are read.',
  );
  const update = useChange(
    () => answer(api.POST('/api/briefs', { body: { clusterIds: [row.clusterId] } })),
    () => 'Made again from what is known now; your changes stay.',
  );
  const move = (from: number, to: number) => {
    if (to < 0 || to >= sections.length || from === to) return;
    const next = [...sections];
    next.splice(to, 0, ...next.splice(from, 1));
    setSection(to);
    setSections(next);
  };
  const splitAt = (at: number) => setSections(sections.flatMap((s, i) => (i === at ? split(s) : [s])));
  const joinAt = (at: number) => {
    const [first, second] = [sections[at], sections[at + 1]];
    if (first && second) setSections([...sections.slice(0, at), join(first, second), ...sections.slice(at + 2)]);
  };
  const next = (kind: 'title' | 'description' | 'h1') => {
    const second = brief.titles.filter((t) => t.kind === kind)[1];
    if (second) edit({ [kind]: second.text });
  };
  const serve = (what: 'keywords' | 'questions' | 'terms', text: string) =>
    setSections(sections.map((s, i) => (i === section ? { ...s, [what]: [...s[what], text] } : s)));
  const onKeyDown = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (renaming !== undefined) return;
    if (by !== 0 && event.altKey) move(section, section + by);
    else if (by !== 0) setSection(Math.max(0, Math.min(sections.length - 1, section + by)));
    else if (event.key === 'Enter') setRenaming(section);
    else if (event.key === 'Delete') setSections(sections.filter((_, i) => i !== section));
    else if (event.ctrlKey || event.metaKey || event.altKey) return;
    else if (event.key === 's') splitAt(section);
    else if (event.key === 'j') joinAt(section);
    else if (event.key === 'n') next('title');
    else if (event.key === 'd') next('description');
    else if (event.key === 'm') next('h1');
    else if (event.key === 'h' && view.topicId !== null && sections[section])
      headings.save.mutate(sections[section].heading);
    else return;
    event.preventDefault();
  };
  const pages = brief.ranking.filter((r) => r.words > 0).length;
  const open = [
    ...view.unserved.keywords.map((text) => ({ what: 'keywords' as const, text })),
    ...view.unserved.questions.map((text) => ({ what: 'questions' as const, text })),
    ...view.unserved.terms.map((text) => ({ what: 'terms' as const, text })),
  ];
  return (
    <>
      <div className={ui.head}>
        <Button type="text" onClick={back} aria-label="All briefs">
          ←
        </Button>
        <h1>{shortUrl(brief.url, host)}</h1>
        <span className={`${ui.second} ${ui.cut}`}>
          {brief.isNew ? 'new' : 'refresh'} · {brief.keywords[0]?.phrase}, {counted(brief.keywords.length, 'keyword')},
          demand {number(row.demand)}
        </span>
        <span className={ui.gap} />
        <Button onClick={() => show('compare')}>Ranking pages</Button>
        <Button onClick={() => show('check')}>Check a text</Button>
        <Dropdown
          trigger={['click']}
          menu={{
            items: formats.map((f) => ({
              key: f.value,
              label: <a href={fileUrl(`/api/briefs/${row.id}/brief.${f.value}`)}>{f.label}</a>,
            })),
          }}
        >
          <Button type="primary">Export</Button>
        </Dropdown>
      </div>
      <div className={ui.says}>
        For
        <AskText
          label="Writer"
          placeholder="a name"
          act="Set"
          change={(writer) =>
            answer(
              api.PUT('/api/briefs/{id}', {
                params: { path: { id: row.id } },
                body: { writer, version: view.version },
              }),
            )
          }
          done={() => 'The writer is set.'}
        >
          <button className={row.writer ? `${ui.chip} ${ui.set}` : ui.chip}>{row.writer || 'nobody yet'}</button>
        </AskText>
        by
        <Popover
          trigger="click"
          content={
            <DatePicker
              aria-label="Due date"
              value={row.due ? dayjs(row.due) : null}
              onChange={(date) => change.mutate({ due: date ? date.format('YYYY-MM-DD') : '' })}
            />
          }
        >
          <button className={row.due ? `${ui.chip} ${ui.set}` : ui.chip}>{row.due ? day(row.due) : 'any day'}</button>
        </Popover>
        ,
        <Popover
          trigger="click"
          content={
            <InputNumber
              aria-label="Words"
              min={50}
              max={20000}
              step={50}
              defaultValue={brief.words?.words}
              onChange={(words) => edit({ words: words ?? null })}
            />
          }
        >
          <button className={edits.words ? `${ui.chip} ${ui.set}` : ui.chip}>
            {brief.words ? `${number(brief.words.words)} words` : 'any length'}
          </button>
        </Popover>
        {brief.words && brief.words.pages > 0 && (
          <span className={ui.second}>
            (ranking pages have {number(brief.words.low)} to {number(brief.words.high)})
          </span>
        )}
        , a
        <Popover trigger="click" content={<PageType view={view} choose={(pageType) => edit({ pageType })} />}>
          <button className={edits.pageType ? `${ui.chip} ${ui.set}` : ui.chip}>{brief.pageType}</button>
        </Popover>
        , state
        <Choice
          label="State"
          any="draft"
          value={row.state === 'draft' ? undefined : row.state}
          options={inSentence(words.briefStates).filter((s) => s.value !== 'draft')}
          onChange={(state) => change.mutate({ state: state ?? 'draft' })}
        />
        <button className={`${ui.chip} ${ui.quiet}`} onClick={() => update.mutate(undefined)}>
          update the facts
        </button>
        {row.changes > 0 && (
          <button className={`${ui.chip} ${ui.quiet}`} onClick={() => change.mutate({ edits: {} })}>
            back to the proposal
          </button>
        )}
      </div>
      {view.unread > 0 && (
        <div className={ui.says}>
          <span className={ui.clay}>{counted(view.unread, 'ranking page')} not read in the last 30 days.</span>
          <Button size="small" loading={read.isPending} onClick={() => read.mutate(undefined)}>
            Read {number(view.unread)}
          </Button>
        </div>
      )}
      <div className={styles.brief}>
        {(['title', 'description', 'h1'] as const).map((kind) => (
          <TitleLine
            key={kind}
            kind={kind}
            texts={brief.titles.filter((t) => t.kind === kind)}
            choose={(text) => edit({ [kind]: text })}
          />
        ))}
        <ol className={styles.outline} aria-label="Outline" tabIndex={0} onKeyDown={onKeyDown} data-list>
          {brief.outline.sections.map((s, i) => (
            <li
              key={`${s.heading} ${i}`}
              className={`${styles.section} ${i === section ? styles.chosen : ''} ${s.level === 3 ? styles.third : ''}`}
              aria-current={i === section || undefined}
              draggable
              onDragStart={(event) => event.dataTransfer.setData('text/plain', String(i))}
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) => {
                event.preventDefault();
                move(Number(event.dataTransfer.getData('text/plain')), i);
              }}
              onClick={() => setSection(i)}
              onDoubleClick={() => setRenaming(i)}
            >
              <span className={styles.place}>{i + 1}</span>
              {renaming === i ? (
                <Input
                  autoFocus
                  aria-label="Heading"
                  defaultValue={s.heading}
                  onPressEnter={(event) => {
                    const heading = event.currentTarget.value.trim();
                    setRenaming(undefined);
                    if (heading && heading !== s.heading)
                      setSections(sections.map((x, at) => (at === i ? { ...x, heading } : x)));
                  }}
                  onKeyDown={(event) => event.key === 'Escape' && setRenaming(undefined)}
                  onBlur={() => setRenaming(undefined)}
                />
              ) : (
                <b>{s.heading}</b>
              )}
              <span className={ui.quiet}>{s.pages > 0 ? `${s.pages} of ${pages}` : ''}</span>
              <Serves section={s} serves={sections[i]!} isLacking={brief.outline.lacking.includes(i)} />
            </li>
          ))}
        </ol>
        <div className={styles.open}>
          {open.length === 0 ? (
            <span className={ui.quiet}>Every keyword, question and term has its section.</span>
          ) : (
            <>
              Not served yet:{' '}
              {open.map(({ what, text }, i) => (
                <span key={`${what} ${text}`}>
                  {i > 0 && ', '}
                  <button className={ui.link} title="Put it into the chosen section" onClick={() => serve(what, text)}>
                    {text}
                  </button>
                </span>
              ))}
            </>
          )}
          <AskText
            label="Heading"
            placeholder="a heading"
            act="Add"
            change={(heading) =>
              answer(
                api.PUT('/api/briefs/{id}', {
                  params: { path: { id: row.id } },
                  body: {
                    edits: { ...edits, outline: [...sections, emptySection(heading)] },
                    version: view.version,
                  },
                }),
              )
            }
            done={() => 'The section is added at the end.'}
          >
            <Button size="small">Add a section</Button>
          </AskText>
          <Button size="small" disabled={!sections[section]} onClick={() => splitAt(section)}>
            Split
          </Button>
          <Button size="small" disabled={!sections[section + 1]} onClick={() => joinAt(section)}>
            Join with the next
          </Button>
        </div>
        {view.savedHeadings.length > 0 && (
          <div className={styles.open}>
            Saved for the topic:
            {view.savedHeadings.map((heading) => (
              <span key={heading}>
                <button
                  className={ui.link}
                  title="Add it to the outline"
                  onClick={() => setSections([...sections, emptySection(heading)])}
                >
                  {heading}
                </button>{' '}
                <Button
                  size="small"
                  type="text"
                  aria-label={`Forget “${heading}”`}
                  onClick={() => headings.forget.mutate(heading)}
                >
                  ×
                </Button>
              </span>
            ))}
          </div>
        )}
      </div>
    </>
  );
}
