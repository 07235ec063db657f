import { Link } from 'react-router';
import { type Schema } from '../api/client';
import { counted, decimal, number, percent, sentenceCase, shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

type SignView = Schema['SignView'];

/** Each kind of sign with the number of keywords that show it and the clicks that they are about. */
export function Shown({ signs }: { signs: SignView[] }) {
  const kinds = [...new Set(signs.map((s) => s.kind))].map((kind) => signs.filter((s) => s.kind === kind));
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>What shows it</th>
          <th className={ui.num}>Keywords</th>
          <th className={ui.num}>Clicks</th>
        </tr>
      </thead>
      <tbody>
        {kinds.map((of) => {
          const keywords = new Set(of.flatMap((s) => s.facts.map((f) => f.keywordId).filter((id) => id !== null))).size;
          return (
            <tr key={of[0]!.kind}>
              <td>{sentenceCase(of[0]!.name)}</td>
              <td className={ui.num}>{keywords > 0 ? number(keywords) : '–'}</td>
              <td className={ui.num}>{number(of.reduce((sum, s) => sum + s.atStake, 0))}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** The pages that a finding is about. */
export function Pages({ detail, host }: { detail: Schema['FindingDetail']; host: string | undefined }) {
  const { pages, finding } = detail;
  if (pages.length === 0) return null;
  return (
    <>
      <hr />
      <h2>{pages.length === 1 ? 'The page' : 'The pages'}</h2>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th aria-label="Page" />
            <th className={ui.num} title="The best in the result lists of its keywords">
              Position
            </th>
            <th className={ui.num} title="A month">
              Clicks
            </th>
            <th className={ui.num}>Links in</th>
          </tr>
        </thead>
        <tbody>
          {pages.map((p) => (
            <tr key={p.id}>
              <td className={ui.url}>
                <Link to={`/site?id=${p.id}`}>{shortUrl(p.url, host)}</Link>
                <div className={ui.second}>{p.title ?? 'title not known'}</div>
              </td>
              <td className={ui.num}>{p.position === null ? '–' : number(p.position)}</td>
              <td className={ui.num}>{number(p.clicks)}</td>
              <td className={ui.num}>{p.linksIn === null ? '–' : number(p.linksIn)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {finding.pageCount > pages.length && (
        <p>
          <span className={ui.quiet}>and {number(finding.pageCount - pages.length)} more, which the export lists</span>
        </p>
      )}
    </>
  );
}

/** The columns that a kind of sign shows beside the keyword. */
const measures: Partial<Record<SignView['kind'], 'split' | 'swap' | 'words'>> = {
  splitTraffic: 'split',
  pageSwap: 'swap',
  missingOnPage: 'words',
};

/** Every sign with its facts, the strongest one open. */
export function Evidence({ signs, host }: { signs: SignView[]; host: string | undefined }) {
  return (
    <>
      <hr />
      <h2>Evidence</h2>
      {signs.map((s, i) => (
        <details
          key={`${s.kind} ${s.clusterId} ${s.page?.id} ${s.others[0]?.id}`}
          open={i === 0}
          className={ui.evidence}
        >
          <summary>
            {sentenceCase(s.name)}
            {s.clusterName && <span className={ui.second}> {s.clusterName}</span>}
          </summary>
          <p className={ui.wrap}>{s.sentence}</p>
          <Facts sign={s} />
          {s.others.length > 1 && (
            <ul className={ui.wrap}>
              {s.others.map((o) => (
                <li key={o.id}>
                  <Link to={`/site?id=${o.id}`}>{shortUrl(o.url, host)}</Link>
                </li>
              ))}
              {s.otherCount > s.others.length && (
                <li className={ui.quiet}>and {number(s.otherCount - s.others.length)} more</li>
              )}
            </ul>
          )}
        </details>
      ))}
    </>
  );
}

function Facts({ sign }: { sign: SignView }) {
  const facts = sign.facts.filter((f) => f.keywordId !== null);
  const measure = measures[sign.kind];
  if (sign.kind.startsWith('twin') && sign.facts[0])
    return (
      <p>
        {sign.others.length > 1 ? 'At least ' : ''}
        {percent(sign.facts[0].share)}{' '}
        {sign.kind === 'twinTexts'
          ? 'of the runs of five words of their texts are the same, as estimated.'
          : 'of their words are the same, endings, stop words and the site’s name left out.'}
      </p>
    );
  if (facts.length === 0) return null;
  const withPage = sign.page !== null && !['absent', 'openQuestion'].includes(sign.kind);
  const withOther = sign.others.length > 0;
  const position = (value: number) =>
    value === 0 ? 'not seen' : Number.isInteger(value) ? String(value) : decimal(value, 1);
  return (
    <>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Keyword</th>
            {measure === 'words' ? <th>Words it lacks</th> : <th className={ui.num}>Volume, est.</th>}
            {withPage && (
              <th className={ui.num} title="Position of the page">
                Page
              </th>
            )}
            {withOther && (
              <th className={ui.num} title="Position of the other page">
                Other
              </th>
            )}
            {measure === 'split' && (
              <th className={ui.num} title="The other page’s share of the impressions">
                Its share
              </th>
            )}
            {measure === 'swap' && (
              <th className={ui.num} title="How often the best page changed">
                Changes
              </th>
            )}
            <th className={ui.num}>At stake</th>
          </tr>
        </thead>
        <tbody>
          {facts.map((e, i) => (
            <tr key={e.keywordId}>
              <td>
                <Link to={`/results?id=${e.keywordId}`}>{e.keyword}</Link>
              </td>
              {measure === 'words' ? (
                <td>{sign.words[i]}</td>
              ) : (
                <td className={ui.num}>{e.volume === null ? 'unknown' : number(e.volume)}</td>
              )}
              {withPage && <td className={ui.num}>{position(e.position)}</td>}
              {withOther && <td className={ui.num}>{position(e.otherPosition)}</td>}
              {measure === 'split' && <td className={ui.num}>{percent(e.share)}</td>}
              {measure === 'swap' && <td className={ui.num}>{number(e.count)}</td>}
              <td className={ui.num}>{number(e.atStake)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {sign.factCount > sign.facts.length && (
        <p className={ui.quiet}>and {counted(sign.factCount - sign.facts.length, 'more keyword')}</p>
      )}
    </>
  );
}
