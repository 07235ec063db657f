import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { AskText } from '../pieces/AskText';
import { counted, day, moment, number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { DraftPart } from './DraftPart';
import { useBrief } from './useBrief';
import { WriterLinkPart } from './WriterLinkPart';

type View = Schema['BriefView'];

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
          <div className="acts">
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
      <div className="acts">
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
          <span className="quiet">{moment(e.madeAt)}</span> {e.says}
        </p>
      ))}
      {view.texts.map((t) => (
        <p key={t.id}>
          <span className="quiet">{moment(t.madeAt)}</span> text kept: {t.name}, {counted(t.words, 'word')}
        </p>
      ))}
      <p className="quiet">Made on {day(view.row.madeAt)}.</p>
    </>
  );
}

function KeywordsPart({ view }: { view: View }) {
  const { brief, edits, row, version } = view;
  const { edit } = useBrief(view);
  const added = new Set((edits.with ?? []).map((w) => w.phrase));
  return (
    <>
      <table className="facts">
        <thead>
          <tr>
            <th>Keyword</th>
            <th className="num">Volume, est.</th>
            <th>Where it goes</th>
            <th aria-label="Take out" />
          </tr>
        </thead>
        <tbody>
          {brief.keywords.map((k) => (
            <tr key={k.phrase}>
              <td>
                {k.phrase}
                {k.intent && <div className="second">{k.intent}</div>}
              </td>
              <td className="num">{number(k.volume)}</td>
              <td className="second">{k.places.join(', ')}</td>
              <td>
                {k.isPrimary ? (
                  <span className="quiet">primary</span>
                ) : (
                  <Button
                    size="small"
                    type="text"
                    aria-label={`Take out “${k.phrase}”`}
                    onClick={() =>
                      edit(
                        added.has(k.phrase)
                          ? { with: (edits.with ?? []).filter((w) => w.phrase !== k.phrase) }
                          : { without: [...(edits.without ?? []), k.phrase] },
                      )
                    }
                  >
                    ×
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {view.takenOut.length > 0 && (
        <p className="second">
          Taken out:{' '}
          {view.takenOut.map((phrase, i) => (
            <span key={phrase}>
              {i > 0 && ', '}
              <button
                className="link"
                title="Put it back"
                onClick={() => edit({ without: (edits.without ?? []).filter((w) => w !== phrase) })}
              >
                {phrase}
              </button>
            </span>
          ))}
        </p>
      )}
      <p className="second">
        Tags:{' '}
        <button className="link" title="Copy" onClick={() => void navigator.clipboard.writeText(brief.tags)}>
          {brief.tags}
        </button>
      </p>
      <div className="acts">
        <AskText
          label="Keyword"
          placeholder="a keyword"
          act="Add"
          change={(phrase) =>
            answer(
              api.PUT('/api/briefs/{id}', {
                params: { path: { id: row.id } },
                body: { edits: { ...edits, with: [...(edits.with ?? []), { phrase }] }, version },
              }),
            )
          }
          done={() => 'The keyword is added at the end.'}
        >
          <Button size="small">Add a keyword</Button>
        </AskText>
      </div>
    </>
  );
}

function TermsPart({ view, read }: { view: View; read: number }) {
  const { brief, row } = view;
  const [showsAll, setShowsAll] = useState(false);
  const ignore = useChange(
    (term: string) =>
      answer(api.POST('/api/briefs/{id}/ignore-term', { params: { path: { id: row.id } }, body: { term } })),
    () => 'Ignored in all briefs of the project.',
  );
  if (brief.terms.length === 0)
    return <p className="quiet">None yet. At least three ranking pages must be read first.</p>;
  return (
    <>
      <table className="facts">
        <thead>
          <tr>
            <th>Term</th>
            <th className="num">Pages</th>
            <th className="num">Uses</th>
            {!brief.isNew && <th className="num">Ours</th>}
            <th aria-label="Ignore" />
          </tr>
        </thead>
        <tbody>
          {brief.terms.map((t) => (
            <tr key={t.text} title={t.reason}>
              <td>{t.text}</td>
              <td className="num">
                {t.pages} of {read}
              </td>
              <td className="num">{number(t.count)}</td>
              {!brief.isNew && (
                <td className={t.ours === 0 ? 'num clay' : 'num'}>{t.ours === 0 ? 'none' : number(t.ours)}</td>
              )}
              <td>
                <Button
                  size="small"
                  type="text"
                  aria-label={`Ignore “${t.text}” in all briefs`}
                  loading={ignore.isPending && ignore.variables === t.text}
                  onClick={() => ignore.mutate(t.text)}
                >
                  ×
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="acts">
        <Button size="small" onClick={() => setShowsAll(!showsAll)}>
          {showsAll ? 'Show the twelve' : 'Show all'}
        </Button>
      </div>
      {showsAll && <AllTerms id={row.id} read={read} />}
    </>
  );
}

function AllTerms({ id, read }: { id: number; read: number }) {
  const terms = useQuery({
    queryKey: keyOf('brief terms', id),
    queryFn: () => answer(api.GET('/api/briefs/{id}/terms', { params: { path: { id } } })),
  });
  if (terms.isError) return <Failed error={terms.error} retry={() => void terms.refetch()} />;
  if (!terms.data) return <Reading />;
  return (
    <table className="facts">
      <thead>
        <tr>
          <th>Term</th>
          <th className="num">Pages</th>
          <th className="num">Uses</th>
          <th className="num" title="Other pages that have it">
            Elsewhere
          </th>
          <th className="num" title="Log-likelihood ratio: how much more frequent it is than in all pages read">
            G²
          </th>
          <th className="num" title="How much it stands by itself, and not as part of a longer phrase">
            C-value
          </th>
        </tr>
      </thead>
      <tbody>
        {terms.data.map((t) => (
          <tr key={t.text}>
            <td>{t.text}</td>
            <td className="num">
              {t.pages} of {read}
            </td>
            <td className="num">{number(t.count)}</td>
            <td className="num">{number(t.elsewhere)}</td>
            <td className="num">{number(Math.round(t.g2))}</td>
            <td className="num">{number(Math.round(t.cValue))}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Ranking({ view }: { view: View }) {
  return (
    <table className="facts">
      <thead>
        <tr>
          <th>Page</th>
          <th className="num">Best</th>
          <th className="num">Lists</th>
          <th className="num">Words</th>
        </tr>
      </thead>
      <tbody>
        {view.brief.ranking.map((r) => (
          <tr key={r.url}>
            <td title={r.title ?? undefined}>
              {shortUrl(r.url, undefined)}
              {[...(r.fault ? [`couldn’t be read: ${r.fault}`] : []), ...r.weak].map((w) => (
                <div key={w} className="second">
                  {w}
                </div>
              ))}
            </td>
            <td className="num">{r.position || '–'}</td>
            <td className="num">{r.lists}</td>
            <td className="num">{r.words ? number(r.words) : 'not read'}</td>
          </tr>
        ))}
      </tbody>
    </table>
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
