import { Button } from 'antd';
import { useState, type KeyboardEvent, type ReactNode } from 'react';
import type { Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { day, number, shortUrl } from '../pieces/format';
import { Stage } from '../pieces/Stage';
import styles from './briefs.module.css';
import { howMany, howManySays, Shared, Unread } from './ComparedPages';
import { useHeadings } from './useBrief';
import ui from '../pieces/ui.module.css';

type Page = Schema['BriefRanking'];

const help = [
  { keys: '↑ ↓', does: 'previous section, next section' },
  { keys: 'H', does: 'save the heading for the topic' },
  { keys: 'Enter', does: 'the pages that have it' },
];

/** The ranking pages side by side, ours first: what all of them have, what some have, and what only we have. */
export function CompareScreen({ view, back }: { view: Schema['BriefView']; back: () => void }) {
  const host = useProject().data?.project.host;
  const [section, setSection] = useState(0);
  const headings = useHeadings(view.topicId);
  useKeyHelp(help);
  const { brief } = view;
  const read = brief.ranking.map((page, i) => ({ page, i })).filter(({ page }) => page.words > 0);
  const pages: { page: Page; i: number }[] = [...(brief.ownPage ? [{ page: brief.ownPage, i: -1 }] : []), ...read];
  const unread = brief.ranking.filter((r) => r.words === 0);
  const sections = brief.outline.sections;
  const has = (s: Schema['OutlineSection'], i: number) => (i < 0 ? s.isOurs : s.on.includes(i));
  const saves = (heading: string | undefined) => {
    if (heading && view.topicId !== null) headings.save.mutate(heading);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    if (event.key === 'ArrowDown') setSection(Math.min(sections.length - 1, section + 1));
    else if (event.key === 'ArrowUp') setSection(Math.max(0, section - 1));
    else if (event.key === 'h') saves(sections[section]?.heading);
    else return;
    event.preventDefault();
  };
  const facts: [string, (page: Page) => ReactNode, boolean?][] = [
    ['Best position', (p) => p.position || 'none', true],
    ['Lists', (p) => p.lists, true],
    ['Title', (p) => p.title],
    ['Description', (p) => p.description],
    ['Meta keywords', (p) => p.facts?.keywords],
    ['H1', (p) => p.h1],
    ['Kind of page', (p) => p.type],
    ['Words', (p) => number(p.words), true],
    ['Images', (p) => number(p.facts?.images), true],
    ['Tables', (p) => number(p.facts?.tables), true],
    ['Links within its site', (p) => number(p.facts?.linksWithin), true],
    ['Links from its own site', (p) => number(p.facts?.linksIn), true],
    ['Links to other sites', (p) => number(p.facts?.linksOut?.length), true],
    ['Published', (p) => (p.facts?.publishedOn ? day(p.facts.publishedOn) : '')],
    ['Changed', (p) => (p.facts?.modifiedOn ? day(p.facts.modifiedOn) : '')],
    ['Weak', (p) => p.weak.join('; ')],
  ];
  const chosen = sections[section];
  return (
    <Stage
      work={
        <>
          <div className={ui.head}>
            <Button type="text" onClick={back} aria-label="Back to the brief">
              ←
            </Button>
            <h1>Pages that rank for “{brief.keywords[0]?.phrase}”</h1>
          </div>
          {pages.length === 0 ? (
            <p className={ui.second}>No ranking pages read yet. Read them from the brief, then update its facts.</p>
          ) : (
            <div className={styles.compare} data-list tabIndex={0} onKeyDown={onKeyDown} aria-label="Ranking pages">
              <table>
                <thead>
                  <tr>
                    <th />
                    {pages.map(({ page, i }) => (
                      <th key={page.url} className={i < 0 ? styles.ours : undefined} title={page.url}>
                        {i < 0 ? `Ours: ${shortUrl(page.url, host)}` : shortUrl(page.url, undefined)}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {facts.map(([name, of, isNumeric]) => (
                    <tr key={name}>
                      <th>{name}</th>
                      {pages.map(({ page }) => (
                        <td key={page.url} className={isNumeric ? ui.num : undefined}>
                          {of(page)}
                        </td>
                      ))}
                    </tr>
                  ))}
                  <tr>
                    <th colSpan={pages.length + 1} className={styles.group}>
                      Sections: on how many of {read.length} pages
                    </th>
                  </tr>
                  {sections.map((s, at) => (
                    <tr
                      key={`${s.heading} ${at}`}
                      className={at === section ? styles.chosen : undefined}
                      aria-selected={at === section}
                      onClick={() => setSection(at)}
                    >
                      <th>
                        {s.heading} <span className={ui.quiet}>{howMany(s, read.length)}</span>
                      </th>
                      {pages.map(({ page, i }) => (
                        <td key={page.url} className={styles.mark}>
                          {has(s, i) ? '■' : '–'}
                        </td>
                      ))}
                    </tr>
                  ))}
                  {brief.questions.length > 0 && (
                    <tr>
                      <th colSpan={pages.length + 1} className={styles.group}>
                        Questions answered
                      </th>
                    </tr>
                  )}
                  {brief.questions.map((question, q) => (
                    <tr key={question}>
                      <th>{question}</th>
                      {pages.map(({ page }) => (
                        <td key={page.url} className={styles.mark}>
                          {page.answers.includes(q) ? '■' : '–'}
                        </td>
                      ))}
                    </tr>
                  ))}
                  <tr>
                    <th>Headings</th>
                    {pages.map(({ page }) => (
                      <td key={page.url}>
                        {page.outline.map((h, at) => (
                          <button
                            key={at}
                            className={`${ui.link} ${styles.heading} ${h.level === 3 ? styles.indented : ''}`}
                            title="Save it for the topic"
                            onClick={() => saves(h.text)}
                          >
                            {h.text}
                          </button>
                        ))}
                      </td>
                    ))}
                  </tr>
                </tbody>
              </table>
            </div>
          )}
        </>
      }
      pane={
        <>
          {chosen && (
            <>
              <h2>“{chosen.heading}”</h2>
              <p>{howManySays(chosen, read.length, brief.isNew)}</p>
              <ul>
                {pages
                  .filter(({ i }) => has(chosen, i))
                  .map(({ page, i }) => (
                    <li key={page.url}>{i < 0 ? 'our page' : shortUrl(page.url, undefined)}</li>
                  ))}
              </ul>
              {view.topicId !== null && (
                <div className={ui.acts}>
                  <Button onClick={() => saves(chosen.heading)}>Save the heading for the topic</Button>
                </div>
              )}
              <hr />
            </>
          )}
          <Shared sections={sections} read={read.length} />
          <Unread pages={unread} />
        </>
      }
      tally={
        <>
          <span>
            <b>{number(read.length)}</b> of {number(brief.ranking.length)} ranking pages read
          </span>
          <span>
            <b>{number(read.filter(({ page }) => page.weak.length > 0).length)}</b> weak
          </span>
        </>
      }
    />
  );
}
