import type { Schema } from '../api/client';
import { number, shortUrl } from '../pieces/format';

/** Why a section is there, the terms of the brief, and what ranking pages have. */
export function SectionPane({ view, section }: { view: Schema['BriefView']; section: number }) {
  const { brief } = view;
  const chosen = brief.outline.sections[section];
  const read = brief.ranking.filter((r) => r.words > 0).length;
  return (
    <>
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
      <h2>Terms</h2>
      {brief.terms.length === 0 ? (
        <p className="quiet">None yet: they come from the ranking pages, of which at least three have to be read.</p>
      ) : (
        <table className="facts">
          <thead>
            <tr>
              <th>Term</th>
              <th className="num">Pages</th>
              <th className="num">Uses</th>
              {!brief.isNew && <th className="num">Ours</th>}
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
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {(
        [
          ['Keep', brief.keep],
          ['Change', brief.change],
          ['Add', brief.add],
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
      {brief.linksTo.length + brief.linksFrom.length > 0 && (
        <>
          <hr />
          <h2>Links</h2>
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
        </>
      )}
      <hr />
      <h2>Pages that rank</h2>
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
          {brief.ranking.map((r) => (
            <tr key={r.url}>
              <td title={r.title ?? undefined}>
                {shortUrl(r.url, undefined)}
                {r.weak.map((w) => (
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
    </>
  );
}
