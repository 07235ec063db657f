import type { Schema } from '../api/client';
import { counted, number, shortUrl } from '../pieces/format';
import styles from './briefs.module.css';
import ui from '../pieces/ui.module.css';

const placeNames: Record<Schema['TextPlace'], string> = {
  title: 'title',
  h1: 'H1',
  h2: 'heading',
  opening: 'opening',
  body: 'text',
  description: 'description',
  url: 'address',
  alt: 'image',
  anchor: 'link',
};

/** Lists of facts on a text, never a score. What is missing comes first. */
export function CheckedFacts({
  facts,
  highlight,
}: {
  facts: Schema['CheckedText'];
  highlight: (passage: string) => void;
}) {
  const { target } = facts;
  const missing = [facts.keywords, facts.terms, facts.questions].flat().filter((p) => p.places.length === 0).length;
  return (
    <>
      <p>
        {counted(facts.words, 'word')}
        {target && `; ${number(target.words)} are asked for`}. {number(missing)} of what is asked for{' '}
        {missing === 1 ? 'is' : 'are'} missing.
      </p>
      {facts.lines.map((line) => (
        <div key={line.kind}>
          <div className={ui.second}>
            {line.kind === 'title' ? 'Title' : 'Description'}: {line.characters} of {line.mostCharacters} characters,{' '}
            {number(line.pixels)} of {line.mostPixels} px
          </div>
          <div
            className={line.kind === 'title' ? `${styles.shown} ${styles.shownTitle}` : styles.shown}
            title={line.text}
          >
            {line.shown}
            {line.rest && <span className={ui.quiet}> [cut off: {line.rest}]</span>}
          </div>
        </div>
      ))}
      {facts.faults.map((fault) => (
        <p key={fault} className={ui.clay}>
          {fault}
        </p>
      ))}
      <Phrases heading="Keywords" phrases={facts.keywords} highlight={highlight} />
      <Phrases heading="Terms" phrases={facts.terms} highlight={highlight} />
      <Phrases heading="Questions" phrases={facts.questions} highlight={highlight} />
      {facts.links.length > 0 && (
        <>
          <h3>Links that are asked for</h3>
          <table className={ui.facts}>
            <tbody>
              {facts.links.map((l) => (
                <tr key={l.url}>
                  <td>
                    {shortUrl(l.url, undefined)}
                    <div className={ui.second}>on “{l.words}”</div>
                  </td>
                  <td className={l.isThere ? undefined : ui.clay}>{l.isThere ? 'there' : 'missing'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {facts.repeated.length > 0 && (
        <>
          <h3>Sentences that another page has</h3>
          {facts.repeated.map((r) => (
            <p key={r.text}>
              <button className={`${ui.link} ${ui.sentence}`} onClick={() => highlight(r.text)}>
                {r.text}
              </button>
              <span className={ui.second}> {shortUrl(r.url, undefined)}</span>
            </p>
          ))}
        </>
      )}
      {facts.claims.length > 0 && (
        <>
          <h3>Numbers and dates without a source</h3>
          {facts.claims.map((c) => (
            <p key={c}>
              <button className={`${ui.link} ${ui.sentence}`} onClick={() => highlight(c)}>
                {c}
              </button>
            </p>
          ))}
        </>
      )}
      {facts.headings.length > 0 && (
        <>
          <h3>Headings, in order</h3>
          {facts.headings.map((h, i) => (
            <div key={i} style={{ paddingLeft: 14 * (h.level - 1) }}>
              <button className={`${ui.link} ${ui.sentence}`} onClick={() => highlight(h.text)}>
                {h.text}
              </button>
            </div>
          ))}
        </>
      )}
    </>
  );
}

function Phrases({
  heading,
  phrases,
  highlight,
}: {
  heading: string;
  phrases: readonly Schema['CheckedPhrase'][];
  highlight: (passage: string) => void;
}) {
  if (phrases.length === 0) return null;
  return (
    <>
      <h3>{heading}</h3>
      <table className={ui.facts}>
        <tbody>
          {[...phrases]
            .sort((a, b) => Number(a.places.length > 0) - Number(b.places.length > 0))
            .map((p) => (
              <tr key={p.phrase}>
                <td>
                  {p.phrase}
                  {p.belongs && (
                    <div className={ui.second}>
                      would go near:{' '}
                      <button className={`${ui.link} ${ui.sentence}`} onClick={() => highlight(p.belongs!)}>
                        {p.belongs}
                      </button>
                    </div>
                  )}
                  {p.places.length === 0 && !p.belongs && <div className={ui.second}>needs a heading of its own</div>}
                </td>
                <td className={p.places.length === 0 ? ui.clay : undefined}>
                  {p.places.length === 0
                    ? 'missing'
                    : p.places
                        .filter((x) => x.place !== 'opening' || p.places.every((y) => y.place !== 'body'))
                        .map((x, i) => (
                          <span key={x.place}>
                            {i > 0 && ', '}
                            <button className={ui.link} title={x.passage} onClick={() => highlight(x.passage)}>
                              {placeNames[x.place]}
                              {x.count > 1 && ` ${x.count}×`}
                              {!x.exact && ' (in other words)'}
                            </button>
                          </span>
                        ))}
                  {p.isOverused && <span className={ui.clay}>, more often than ranking pages</span>}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
