import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { AskText } from '../pieces/AskText';
import { number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { useBrief } from './useBrief';
import ui from '../pieces/ui.module.css';
import { type View } from './BriefPane';

export function KeywordsPart({ view }: { view: View }) {
  const { brief, edits, row, version } = view;
  const { edit } = useBrief(view);
  const added = new Set((edits.with ?? []).map((w) => w.phrase));
  return (
    <>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Keyword</th>
            <th className={ui.num}>Volume, est.</th>
            <th>Where it goes</th>
            <th aria-label="Take out" />
          </tr>
        </thead>
        <tbody>
          {brief.keywords.map((k) => (
            <tr key={k.phrase}>
              <td>
                {k.phrase}
                {k.intent && <div className={ui.second}>{k.intent}</div>}
              </td>
              <td className={ui.num}>{number(k.volume)}</td>
              <td className={ui.second}>{k.places.join(', ')}</td>
              <td>
                {k.isPrimary ? (
                  <span className={ui.quiet}>primary</span>
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
        <p className={ui.second}>
          Taken out:{' '}
          {view.takenOut.map((phrase, i) => (
            <span key={phrase}>
              {i > 0 && ', '}
              <button
                className={ui.link}
                title="Put it back"
                onClick={() => edit({ without: (edits.without ?? []).filter((w) => w !== phrase) })}
              >
                {phrase}
              </button>
            </span>
          ))}
        </p>
      )}
      <p className={ui.second}>
        Tags:{' '}
        <button className={ui.link} title="Copy" onClick={() => void navigator.clipboard.writeText(brief.tags)}>
          {brief.tags}
        </button>
      </p>
      <div className={ui.acts}>
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

export function TermsPart({ view, read }: { view: View; read: number }) {
  const { brief, row } = view;
  const [showsAll, setShowsAll] = useState(false);
  const ignore = useChange(
    (term: string) =>
      answer(api.POST('/api/briefs/{id}/ignore-term', { params: { path: { id: row.id } }, body: { term } })),
    () => 'Ignored in all briefs of the project.',
  );
  if (brief.terms.length === 0)
    return <p className={ui.quiet}>None yet. At least three ranking pages must be read first.</p>;
  return (
    <>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Term</th>
            <th className={ui.num}>Pages</th>
            <th className={ui.num}>Uses</th>
            {!brief.isNew && <th className={ui.num}>Ours</th>}
            <th aria-label="Ignore" />
          </tr>
        </thead>
        <tbody>
          {brief.terms.map((t) => (
            <tr key={t.text} title={t.reason}>
              <td>{t.text}</td>
              <td className={ui.num}>
                {t.pages} of {read}
              </td>
              <td className={ui.num}>{number(t.count)}</td>
              {!brief.isNew && (
                <td className={t.ours === 0 ? `${ui.num} ${ui.clay}` : ui.num}>
                  {t.ours === 0 ? 'none' : number(t.ours)}
                </td>
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
      <div className={ui.acts}>
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
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>Term</th>
          <th className={ui.num}>Pages</th>
          <th className={ui.num}>Uses</th>
          <th className={ui.num} title="Other pages that have it">
            Elsewhere
          </th>
          <th className={ui.num} title="Log-likelihood ratio: how much more frequent it is than in all pages read">
            G²
          </th>
          <th className={ui.num} title="How much it stands by itself, and not as part of a longer phrase">
            C-value
          </th>
        </tr>
      </thead>
      <tbody>
        {terms.data.map((t) => (
          <tr key={t.text}>
            <td>{t.text}</td>
            <td className={ui.num}>
              {t.pages} of {read}
            </td>
            <td className={ui.num}>{number(t.count)}</td>
            <td className={ui.num}>{number(t.elsewhere)}</td>
            <td className={ui.num}>{number(Math.round(t.g2))}</td>
            <td className={ui.num}>{number(Math.round(t.cValue))}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function Ranking({ view }: { view: View }) {
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>Page</th>
          <th className={ui.num}>Best</th>
          <th className={ui.num}>Lists</th>
          <th className={ui.num}>Words</th>
        </tr>
      </thead>
      <tbody>
        {view.brief.ranking.map((r) => (
          <tr key={r.url}>
            <td title={r.title ?? undefined}>
              {shortUrl(r.url, undefined)}
              {[...(r.fault ? [`couldn’t be read: ${r.fault}`] : []), ...r.weak].map((w) => (
                <div key={w} className={ui.second}>
                  {w}
                </div>
              ))}
            </td>
            <td className={ui.num}>{r.position || '–'}</td>
            <td className={ui.num}>{r.lists}</td>
            <td className={ui.num}>{r.words ? number(r.words) : 'not read'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
