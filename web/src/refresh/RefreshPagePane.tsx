import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { refreshPageEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { CheckPageButton } from '../briefs/BriefButton';
import { FindingLine } from '../findings/says';
import { counted, day, decimal, number, shortUrl } from '../pieces/format';
import { Lines } from '../pieces/Lines';
import { PlotMark } from '../pieces/PlotMark';
import { Failed, Reading } from '../pieces/States';
import { exportUrl, type ListState } from '../pieces/useListState';
import { FadingPart } from './FadingPart';
import styles from './refresh.module.css';
import { RivalKeywordsPart } from './RivalKeywordsPart';
import { marksOf, mentionsOf } from './says';
import { SpanTable, type SpanRow } from './SpanTable';
import { periodOf } from './useRefresh';
import { weeks } from './weeks';
import ui from '../pieces/ui.module.css';

/** One page: its numbers over time, its queries and where they rank, its findings and steps. */
export function RefreshPagePane({ id, list, host }: { id: number; list: ListState; host: string | undefined }) {
  const period = periodOf(list);
  const detail = useQuery(refreshPageEvidence(id, period));
  usePlaceName(detail.data?.page.url);
  const known = useQuery({
    queryKey: keyOf('page', id),
    queryFn: () => answer(api.GET('/api/pages/{id}', { params: { path: { id } } })),
  });
  const changes = useQuery({
    queryKey: keyOf('changes of page', id),
    queryFn: () => answer(api.GET('/api/changes', { params: { query: { PageId: id } } })),
  });
  const steps = useQuery({
    queryKey: keyOf('steps of page', id),
    queryFn: () => answer(api.GET('/api/plan/steps', { params: { query: { PageId: id, AnyStatus: true } } })),
  });
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { page, days, positions, queries, fading } = detail.data;
  const weekly = weeks(days);
  const events = (changes.data?.rows ?? []).map((c) => ({ day: c.day, says: c.kinds.join(', ') }));
  const most = Math.max(1, ...positions.map((p) => p.queries));
  return (
    <>
      <h2 className={ui.wrap}>{shortUrl(page.url, host)}</h2>
      <p>
        {page.title ?? 'Its title is not known.'}
        {page.stateSays && (
          <>
            <br />
            <span className={ui.clay}>{page.stateSays[0]!.toUpperCase() + page.stateSays.slice(1)}.</span>
          </>
        )}
      </p>
      <div className={ui.acts}>
        <CheckPageButton pageId={id} />
        <Link to={`/refresh?view=queries&page=${id}`}>Its {counted(page.queries, 'query', 'queries')}</Link>
        <a href={exportUrl(`/api/refresh/pages/${id}/questions.txt`, period)} target="_blank" rel="noreferrer">
          Its questions as text
        </a>
      </div>
      <SpanTable now={page.now} before={page.before} more={ages(page)} />
      {weekly.some((w) => w.clicks !== null) && (
        <>
          <Lines
            title={`Clicks a week; weeks with missing days are gaps${events.length > 0 ? '; upright lines are its changes' : ''}`}
            events={events}
            series={[{ name: 'clicks', points: weekly.map((w) => ({ day: w.day, value: w.clicks })) }]}
          />
          <Lines
            title="Average position"
            events={events}
            upsideDown
            series={[{ name: 'position', points: weekly.map((w) => ({ day: w.day, value: w.position })) }]}
          />
        </>
      )}
      {fading && <FadingPart fading={fading} />}
      <h3>Positions of its queries</h3>
      <table className={ui.facts}>
        <tbody>
          {positions.map((p) => (
            <tr key={p.says}>
              <td>{p.says}</td>
              <td>
                {/* The width is a number that was computed. */}
                <span className={styles.bar} style={{ width: `${(120 * p.queries) / most}px` }} />
              </td>
              <td className={ui.num}>{counted(p.queries, 'query', 'queries')}</td>
              <td className={ui.num}>{number(p.impressions)} impr.</td>
            </tr>
          ))}
        </tbody>
      </table>
      <hr />
      <h2>Most at stake</h2>
      <Queries queries={queries.slice(0, 15)} pageId={id} />
      {page.anonymousClicks > 0 && (
        <p className={ui.quiet}>
          {counted(page.anonymousClicks, 'click')} of {number(page.now.clicks)} came from queries that the source keeps
          to itself.
        </p>
      )}
      <hr />
      <h2>Clusters</h2>
      {known.data?.clusters.length === 0 && <p>No cluster is assigned to it.</p>}
      {known.data?.clusters.map((c) => (
        <p key={c.id}>
          <PlotMark mark={c.mark} /> <Link to={`/clusters?id=${c.id}`}>{c.name}</Link>, demand {number(c.demand)},
          estimated
        </p>
      ))}
      {detail.data.placement && detail.data.placement.length > 0 && (
        <>
          <h3>Where their keywords appear</h3>
          <table className={ui.facts}>
            <tbody>
              {detail.data.placement.map((k) => (
                <tr key={k.id}>
                  <td>{k.phrase}</td>
                  <td className={`${ui.num} ${ui.second}`}>{number(k.volume)}</td>
                  <td className={k.mentions === 0 ? ui.clay : undefined}>{mentionsOf(k.mentions, k.places)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      <RivalKeywordsPart key={id} id={id} rivals={detail.data.rivals} host={host} />
      {(known.data?.findings.length ?? 0) > 0 && (
        <>
          <h2>Findings</h2>
          {known.data?.findings.map((f) => (
            <FindingLine key={f.key} finding={f} />
          ))}
        </>
      )}
      <h2>Changes</h2>
      {changes.data?.rows.length === 0 && <p>None yet. Scans find changes, and you can enter them.</p>}
      {changes.data?.rows.map((c) => (
        <p key={c.id}>
          <Link to={`/refresh?view=changes&id=${id}&day=${c.day}`}>
            {day(c.day)}: {c.kinds.join(', ')}
          </Link>
          {c.effect && (
            <>
              <br />
              <span className={ui.second}>{c.effect.says}</span>
            </>
          )}
        </p>
      ))}
      <h2>Steps</h2>
      {steps.data?.rows.length === 0 && <p>None yet. Mention, answer or retitle for a query, and it gets one.</p>}
      {steps.data?.rows.map((s) => (
        <p key={s.id}>
          <Link to={`/plan?id=${s.id}&status=any`}>{s.what}</Link>, {s.statusName}:{' '}
          <span className={ui.second}>{s.parts.map((p) => p.says).join('; ')}</span>
        </p>
      ))}
    </>
  );
}

/** What the page says of its age, where it says anything. */
const ages = (page: Schema['PageQueriesView']): SpanRow[] => [
  ...(page.publishedOn || page.modifiedOn
    ? [['Published, changed', day(page.publishedOn), day(page.modifiedOn)] as SpanRow]
    : []),
  ...(page.pastYear ? [['Its title mentions', page.pastYear] as SpanRow] : []),
];

function Queries({ queries, pageId }: { queries: Schema['QueryView'][]; pageId: number }) {
  if (queries.length === 0) return <p>It had no impressions in this period.</p>;
  return (
    <table className={ui.facts}>
      <thead>
        <tr>
          <th>Query</th>
          <th className={ui.num}>Clicks</th>
          <th className={ui.num}>Pos.</th>
          <th className={ui.num}>At stake</th>
        </tr>
      </thead>
      <tbody>
        {queries.map((q) => (
          <tr key={q.id}>
            <td>
              <Link to={`/refresh?view=queries&page=${pageId}&id=${pageId}&query=${q.queryId}`}>{q.query}</Link>
              {q.marks.length > 0 && <div className={ui.second}>{marksOf(q.marks)}</div>}
            </td>
            <td className={ui.num}>{number(q.now.clicks)}</td>
            <td className={ui.num}>{decimal(q.now.position, 1)}</td>
            <td className={ui.num}>{decimal(q.atStake, 1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
