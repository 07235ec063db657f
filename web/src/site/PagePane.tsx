import { Link } from 'react-router';
import type { Schema } from '../api/client';
import { FindingLine } from '../findings/says';
import { counted, day, decimal, moment, number, shortUrl } from '../pieces/format';
import { PlotMark } from '../pieces/PlotMark';
import ui from '../pieces/ui.module.css';

/** What is known of a page: its clusters, the searches it ranks for, its findings. */
export function PagePane({ detail, host }: { detail: Schema['PageDetail']; host: string }) {
  const { page, clusters, findings, standings, titles, linksTo, queries, performanceDays } = detail;
  return (
    <>
      <h2 className={ui.wrap}>{shortUrl(page.url, host)}</h2>
      <p>
        {page.title ?? 'Its title is not known.'}
        <br />
        <span className={ui.quiet}>
          {page.kind === 'planned'
            ? `Planned${page.form && page.form !== 'other' ? `, a ${page.form} page` : ''}${page.topicName ? ` of the topic ${page.topicName}` : ''}, not written yet.`
            : page.source === 'results'
              ? 'Seen in results; in no scan and no page list.'
              : page.source === 'scan'
                ? 'Found by a scan.'
                : 'From an imported page list.'}
          {page.words !== null && ` ${number(page.words)} words.`}
        </span>
      </p>
      <table className={ui.facts}>
        <tbody>
          <Fact
            name="State"
            value={
              page.goneSince
                ? `gone since ${moment(page.goneSince)}`
                : page.status === null
                  ? null
                  : `status ${page.status}, ${page.indexable === 'yes' ? 'indexable' : `not indexable: ${page.indexable}`}`
            }
          />
          <Fact name="Leads to" value={page.redirectsTo} />
          <Fact name="Canonical" value={page.canonical && page.canonical !== page.url ? page.canonical : null} />
          <Fact name="Changed" value={page.modifiedOn ? day(page.modifiedOn) : null} />
          <Fact name="Scanned" value={page.scannedAt ? moment(page.scannedAt) : null} />
          <Fact name="H1" value={page.h1} />
          <Fact name="Description" value={page.description} />
          <Fact name="H2" value={page.h2} />
          <Fact name="H3" value={page.h3} />
        </tbody>
      </table>
      {titles.length > 1 && (
        <>
          <h3 className={ui.spaced}>Earlier titles</h3>
          {titles.slice(1).map((t) => (
            <div key={t.seenAt} className={ui.second}>
              {t.title} <span className={ui.quiet}>seen from {moment(t.seenAt)}</span>
            </div>
          ))}
        </>
      )}
      <hr />
      <h2>Clusters</h2>
      {clusters.length === 0 && (
        <p>
          No cluster is assigned to it. <Link to="/page-map">Open the page map</Link>
        </p>
      )}
      {clusters.map((c) => (
        <p key={c.id}>
          <PlotMark mark={c.mark} /> <Link to={`/clusters?id=${c.id}`}>{c.name}</Link>, {counted(c.size, 'keyword')},
          demand {number(c.demand)}
        </p>
      ))}
      {findings.length > 0 && (
        <>
          <hr />
          <h2 className={ui.clay}>Findings</h2>
          {findings.map((f) => (
            <FindingLine key={f.key} finding={f} />
          ))}
        </>
      )}
      <hr />
      <h2>Ranks for</h2>
      {standings.length === 0 ? (
        <p>It is not in any captured results.</p>
      ) : (
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>Keyword</th>
              <th className={ui.num}>Volume, est.</th>
              <th className={ui.num}>Position</th>
            </tr>
          </thead>
          <tbody>
            {standings.map((s) => (
              <tr key={s.keywordId}>
                <td>
                  <Link to={`/results?id=${s.keywordId}`}>{s.keyword}</Link>
                </td>
                <td className={ui.num}>{number(s.volume)}</td>
                <td className={ui.num}>{s.position}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {performanceDays > 0 && page.kind === 'existing' && (
        <>
          <hr />
          <h2>Queries it was shown for</h2>
          {queries.length === 0 ? (
            <p>None in {performanceDays} days.</p>
          ) : (
            <table className={ui.facts}>
              <thead>
                <tr>
                  <th>Query, {performanceDays} days</th>
                  <th className={ui.num}>Clicks</th>
                  <th className={ui.num} title="Impressions">
                    Impr.
                  </th>
                  <th className={ui.num} title="Average position">
                    Avg.
                  </th>
                </tr>
              </thead>
              <tbody>
                {queries.map((q) => (
                  <tr key={q.query}>
                    <td>
                      {q.query === '' ? (
                        <span className={ui.quiet}>queries that are not named</span>
                      ) : q.keywordId === null ? (
                        q.query
                      ) : (
                        <Link to={`/results?id=${q.keywordId}`}>{q.query}</Link>
                      )}
                      {q.pagesShown > 1 && q.query !== '' && <span className={ui.quiet}> {q.pagesShown} pages</span>}
                    </td>
                    <td className={ui.num}>{number(q.clicks)}</td>
                    <td className={ui.num}>{number(q.impressions)}</td>
                    <td className={ui.num}>{decimal(q.position, 1)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
      {page.linksIn !== null && (
        <>
          <hr />
          <h2>{page.linksIn === 0 ? 'No page links to it' : `${counted(page.linksIn, 'page')} link to it`}</h2>
          {linksTo.map((l, i) => (
            <div key={i} className={ui.second}>
              <Link to={`/site?id=${l.pageId}`}>{shortUrl(l.url, host)}</Link>{' '}
              {l.anchor ? `“${l.anchor}”` : <span className={ui.quiet}>no text</span>}
            </div>
          ))}
        </>
      )}
    </>
  );
}

function Fact({ name, value }: { name: string; value: string | null }) {
  return value === null ? null : (
    <tr>
      <td className={ui.second}>{name}</td>
      <td>{value}</td>
    </tr>
  );
}
