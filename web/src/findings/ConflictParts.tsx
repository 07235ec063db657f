import { type ReactNode } from 'react';
import { Link } from 'react-router';
import { type Schema } from '../api/client';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import { Lines, type Series } from '../pieces/Lines';
import { PlotMark } from '../pieces/PlotMark';
import ui from '../pieces/ui.module.css';
import styles from './findings.module.css';
import chartsStyles from '../pieces/charts.module.css';
import { type View } from './ConflictScreen';

export function SideBySide({ view, host }: { view: View; host: string | undefined }) {
  const { finding, pages } = view;
  const line = (name: string, of: (page: View['pages'][number]) => ReactNode, numeric = false) => (
    <tr>
      <th scope="row">{name}</th>
      {pages.map((p) => (
        <td key={p.page.id} className={numeric ? ui.num : undefined}>
          {of(p)}
        </td>
      ))}
    </tr>
  );
  const unknown = <span className={ui.quiet}>not known</span>;
  return (
    <>
      <div className={ui.head}>
        <h1 className={`${ui.clay} ${ui.cut}`}>Conflict: {finding.subject}</h1>
        {view.pageCount > pages.length && (
          <span className={ui.second}>
            the {pages.length} strongest of {view.pageCount} pages
          </span>
        )}
        <span className={ui.gap} />
        <Link to={`/findings?id=${encodeURIComponent(finding.key)}`}>Back to the findings</Link>
      </div>
      <div className={styles.scrolls} tabIndex={0} role="region" aria-label="The pages side by side">
        <table className={`${ui.facts} ${styles.sides}`}>
          <thead>
            <tr>
              <th aria-label="What is compared" />
              {pages.map((p, i) => (
                <th key={p.page.id} className={styles.url}>
                  <span className={`${chartsStyles.swatch} ${chartsStyles[`s${i}`]}`} aria-hidden />{' '}
                  <Link to={`/site?id=${p.page.id}`}>{shortUrl(p.page.url, host)}</Link>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {line('Title', (p) => p.page.title ?? unknown)}
            {line('H1', (p) => p.page.h1 ?? unknown)}
            {line('Words', (p) => (p.page.words === null ? unknown : number(p.page.words)))}
            {line('Links in', (p) => (p.page.linksIn === null ? unknown : number(p.page.linksIn)))}
            {line('State', (p) =>
              p.page.kind === 'planned'
                ? 'planned'
                : p.page.indexable && p.page.indexable !== 'yes'
                  ? p.page.indexable
                  : 'indexable',
            )}
            {line('Clusters', (p) =>
              p.clusters.length === 0 ? (
                <span className={ui.quiet}>none</span>
              ) : (
                p.clusters.map((c) => (
                  <div key={c.id}>
                    <PlotMark mark={c.mark} /> <Link to={`/clusters?id=${c.id}`}>{c.name}</Link>, demand{' '}
                    {number(c.demand)}
                  </div>
                ))
              ),
            )}
            {view.performanceDays > 0 &&
              line('Clicks', (p) => `${number(p.clicks)} of ${number(p.impressions)} impressions`)}
            {line('Clicks a month, est.', (p) => number(p.estimatedClicks))}
          </tbody>
        </table>
        <Time view={view} host={host} />
        <Queries view={view} host={host} />
      </div>
    </>
  );
}

function Time({ view, host }: { view: View; host: string | undefined }) {
  const about = view.finding.clusterId === null ? 'all their queries' : 'the queries of the cluster';
  if (view.weeks.length === 0)
    return (
      <section>
        <h2>Over time</h2>
        <p className={ui.second}>
          {view.performanceDays === 0
            ? 'No search performance was brought yet: import it, or read it from the service, on the Site screen.'
            : `None of these pages was shown for ${about}.`}
        </p>
      </section>
    );
  const series = (value: (week: View['weeks'][number]) => number | null): Series[] =>
    view.pages.map((p) => ({
      name: shortUrl(p.page.url, host),
      points: view.weeks.filter((w) => w.pageId === p.page.id).map((w) => ({ day: w.week, value: value(w) })),
    }));
  return (
    <section>
      <h2>Weekly trend for {about}</h2>
      <div className={styles.sidesLines}>
        <Lines title="Average position, 1 at the top" series={series((w) => w.position)} upsideDown />
        <Lines title="Clicks a week" series={series((w) => w.clicks)} />
      </div>
    </section>
  );
}

function Queries({ view, host }: { view: View; host: string | undefined }) {
  return (
    <>
      <section>
        <h2>{counted(view.sharedCount, 'query', 'queries')} they share</h2>
        {view.shared.length > 0 && <QueryTable queries={view.shared} pages={view.pages.map((_, i) => i)} view={view} />}
        {view.sharedCount > view.shared.length && (
          <p className={ui.quiet}>and {number(view.sharedCount - view.shared.length)} more</p>
        )}
      </section>
      {view.pages.map((p, i) => (
        <section key={p.page.id}>
          <h2>
            {counted(p.onlyCount, 'query', 'queries')} of {shortUrl(p.page.url, host)} alone
          </h2>
          {p.only.length > 0 && <QueryTable queries={p.only} pages={[i]} view={view} />}
          {p.onlyCount > p.only.length && <p className={ui.quiet}>and {number(p.onlyCount - p.only.length)} more</p>}
        </section>
      ))}
    </>
  );
}

function QueryTable({ queries, pages, view }: { queries: Schema['ConflictQuery'][]; pages: number[]; view: View }) {
  const known = view.performanceDays > 0;
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>Query</th>
          <th className={ui.num}>Volume, est.</th>
          {pages.flatMap((i) => [
            <th key={`p${i}`} className={ui.num} title="In the newest result list">
              {pages.length > 1 && <span className={`${chartsStyles.swatch} ${chartsStyles[`s${i}`]}`} aria-hidden />}{' '}
              Position
            </th>,
            known && (
              <th key={`a${i}`} className={ui.num} title="Average in search performance">
                Average
              </th>
            ),
            known && (
              <th key={`c${i}`} className={ui.num}>
                Clicks
              </th>
            ),
          ])}
        </tr>
      </thead>
      <tbody>
        {queries.map((q) => (
          <tr key={q.query}>
            <td>{q.keywordId === null ? q.query : <Link to={`/results?id=${q.keywordId}`}>{q.query}</Link>}</td>
            <td className={ui.num}>{number(q.volume)}</td>
            {pages.flatMap((i) => [
              <td key={`p${i}`} className={ui.num}>
                {q.positions[i] || '–'}
              </td>,
              known && (
                <td key={`a${i}`} className={ui.num}>
                  {decimal(q.averagePositions[i], 1)}
                </td>
              ),
              known && (
                <td key={`c${i}`} className={ui.num}>
                  {q.impressions[i] ? number(q.clicks[i]) : '–'}
                </td>
              ),
            ])}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
