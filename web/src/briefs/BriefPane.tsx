import { Button, Input } from 'antd';
import { useState } from 'react';
import { type Schema } from '../api/client';
import { counted, day, moment, shortUrl } from '../pieces/format';
import { DraftPart } from './DraftPart';
import { useBrief } from './useBrief';
import { WriterLinkPart } from './WriterLinkPart';
import ui from '../pieces/ui.module.css';
import { KeywordsPart, TermsPart, Ranking } from './BriefLists';

export type View = Schema['BriefView'];

/** What is behind a brief: what is wanted, why a section is there, keywords, terms, links and history. */
export function BriefPane({
  view,
  section,
  show,
}: {
  view: View;
  section: number;
  show: (what: 'check' | 'compare') => void;
}) {
  const { brief } = view;
  const { change } = useBrief(view);
  const chosen = brief.outline.sections[section];
  const read = brief.ranking.filter((r) => r.words > 0).length;
  return (
    <>
      {view.differences.length > 0 && (
        <>
          <h2>Changed by the latest facts</h2>
          <ul>
            {view.differences.map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
          <div className={ui.acts}>
            <Button onClick={() => change.mutate({ hasSeen: true })}>Seen</Button>
          </div>
          <hr />
        </>
      )}
      <h2>What the searcher wants</h2>
      <p>{brief.wants}</p>
      {chosen && (
        <>
          <hr />
          <h2>“{chosen.heading}”</h2>
          <p>
            {chosen.pages > 0
              ? `${chosen.pages} of the ${read} pages that were read have a section like it.`
              : 'No page that was read has such a section.'}{' '}
            {!brief.isNew && (chosen.isOurs ? 'Ours has it.' : 'Ours has none.')}
          </p>
        </>
      )}
      <hr />
      <h2>Keywords</h2>
      <KeywordsPart view={view} />
      <hr />
      <h2>Terms</h2>
      <TermsPart view={view} read={read} />
      {(
        [
          ['Questions to answer', brief.questions],
          ['Keep', brief.keep],
          ['Change', brief.change],
          ['Add', brief.add],
          ['Images', brief.images],
        ] as const
      )
        .filter(([, items]) => items.length > 0)
        .map(([heading, items]) => (
          <div key={heading}>
            <hr />
            <h2>{heading}</h2>
            <ul>
              {items.map((item) => (
                <li key={item}>{item}</li>
              ))}
            </ul>
          </div>
        ))}
      {brief.linksTo.length + brief.linksFrom.length + brief.sources.length > 0 && (
        <>
          <hr />
          <h2>Links and sources</h2>
          {brief.linksTo.map((l) => (
            <p key={`to ${l.url}`}>
              To {shortUrl(l.url, undefined)} on “{l.words}”
            </p>
          ))}
          {brief.linksFrom.map((l) => (
            <p key={`from ${l.url}`}>
              From {shortUrl(l.url, undefined)} on “{l.words}”
            </p>
          ))}
          {brief.sources.map((l) => (
            <p key={`source ${l.url}`}>
              {shortUrl(l.url, undefined)}: {l.words}
            </p>
          ))}
        </>
      )}
      <hr />
      <h2>Pages that rank</h2>
      <Ranking view={view} />
      <div className={ui.acts}>
        <Button onClick={() => show('compare')}>Compare them side by side</Button>
      </div>
      <hr />
      <h2>Notes on tone and audience</h2>
      <Notes key={view.version} view={view} />
      <hr />
      <h2>Drafted texts</h2>
      <DraftPart view={view} section={chosen} />
      <hr />
      <h2>Link for the writer</h2>
      <WriterLinkPart view={view} />
      <hr />
      <h2>History</h2>
      {view.history.map((e, i) => (
        <p key={i}>
          <span className={ui.quiet}>
            {moment(e.madeAt)}
            {e.author && `, ${e.author}`}
          </span>{' '}
          {e.says}
        </p>
      ))}
      {view.texts.map((t) => (
        <p key={t.id}>
          <span className={ui.quiet}>
            {moment(t.madeAt)}
            {t.author && `, ${t.author}`}
          </span>{' '}
          text kept: {t.name}, {counted(t.words, 'word')}
        </p>
      ))}
      <p className={ui.quiet}>Made on {day(view.row.madeAt)}.</p>
    </>
  );
}

function Notes({ view }: { view: View }) {
  const { change } = useBrief(view);
  const [notes, setNotes] = useState(view.notes);
  return (
    <Input.TextArea
      aria-label="Notes on tone and audience"
      autoSize={{ minRows: 2, maxRows: 8 }}
      maxLength={4000}
      placeholder={view.projectNotes || 'as the project says; nothing yet'}
      value={notes}
      onChange={(event) => setNotes(event.target.value)}
      onBlur={() => notes !== view.notes && change.mutate({ notes })}
    />
  );
}
