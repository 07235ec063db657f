import { useQuery } from '@tanstack/react-query';
import { Button, Input, Radio } from 'antd';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange, useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { useKeyHelp } from '../app/keys';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import { Lines, type Series } from '../pieces/Lines';
import { PlotMark } from '../pieces/PlotMark';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { useListState } from '../pieces/useListState';

type View = Schema['ConflictView'];
type Decision = Schema['ConflictDecision'];

const help = [{ keys: '1 to 7', does: 'choose a decision' }];

const decisions: { value: Decision; says: string; does: string; needsNote?: boolean; alone?: boolean }[] = [
  { value: 'redirect', says: 'Keep one, redirect the others', does: 'their addresses lead to the kept page' },
  { value: 'merge', says: 'Merge', does: 'the texts come together on the kept page; the others lead to it' },
  {
    value: 'newTarget',
    says: 'Give the others a new target',
    does: 'they get searches of their own and stop chasing these',
    alone: true,
  },
  { value: 'canonical', says: 'Make one canonical', does: 'all stay, and the others name the kept page as canonical' },
  { value: 'link', says: 'Link', does: 'the others link to the kept page, with words of these searches', alone: true },
  {
    value: 'deliberate',
    says: 'Deliberate',
    does: 'all are wanted as they are; they raise nothing any more',
    needsNote: true,
  },
  { value: 'leave', says: 'Leave it as it is', does: 'this finding is dismissed', needsNote: true, alone: true },
];

/** One conflict: its pages side by side, so that the planner can decide. */
export function ConflictScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const key = list.text('key');
  useKeyHelp(help);
  const conflict = useQuery({
    queryKey: keyOf('conflict', key),
    enabled: key !== undefined,
    queryFn: () => answer(api.GET('/api/conflicts/{key}', { params: { path: { key: key! } } })),
  });
  if (key === undefined)
    return (
      <NotYet title="No conflict is chosen">
        <Link to="/findings">Back to the findings</Link>
      </NotYet>
    );
  if (conflict.isError) return <Failed error={conflict.error} retry={() => void conflict.refetch()} />;
  if (!conflict.data) return <Reading />;
  const view = conflict.data;
  return (
    <Stage
      work={<SideBySide view={view} host={host} />}
      pane={<Decide key={key} view={view} host={host} />}
      tally={
        <span>
          at stake: about <b>{number(view.finding.atStake)}</b> clicks a month
          {view.performanceDays > 0 && `; clicks and impressions are of ${view.performanceDays} days, counted`}
        </span>
      }
    />
  );
}

function SideBySide({ view, host }: { view: View; host: string | undefined }) {
  const { finding, pages } = view;
  const line = (name: string, of: (page: View['pages'][number]) => ReactNode, numeric = false) => (
    <tr>
      <th scope="row">{name}</th>
      {pages.map((p) => (
        <td key={p.page.id} className={numeric ? 'num' : undefined}>
          {of(p)}
        </td>
      ))}
    </tr>
  );
  const unknown = <span className="quiet">not known</span>;
  return (
    <>
      <div className="head">
        <h1 className="clay cut">Conflict: {finding.subject}</h1>
        {view.pageCount > pages.length && (
          <span className="second">
            the {pages.length} strongest of {view.pageCount} pages
          </span>
        )}
        <span className="gap" />
        <Link to={`/findings?id=${encodeURIComponent(finding.key)}`}>Back to the findings</Link>
      </div>
      <div className="scrolls" tabIndex={0} role="region" aria-label="The pages side by side">
        <table className="facts sides">
          <thead>
            <tr>
              <th aria-label="What is compared" />
              {pages.map((p, i) => (
                <th key={p.page.id} className="url">
                  <span className={`swatch s${i}`} aria-hidden />{' '}
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
                <span className="quiet">none</span>
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
        <p className="second">
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
      <div className="sides-lines">
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
          <p className="quiet">and {number(view.sharedCount - view.shared.length)} more</p>
        )}
      </section>
      {view.pages.map((p, i) => (
        <section key={p.page.id}>
          <h2>
            {counted(p.onlyCount, 'query', 'queries')} of {shortUrl(p.page.url, host)} alone
          </h2>
          {p.only.length > 0 && <QueryTable queries={p.only} pages={[i]} view={view} />}
          {p.onlyCount > p.only.length && <p className="quiet">and {number(p.onlyCount - p.only.length)} more</p>}
        </section>
      ))}
    </>
  );
}

function QueryTable({ queries, pages, view }: { queries: Schema['ConflictQuery'][]; pages: number[]; view: View }) {
  const known = view.performanceDays > 0;
  return (
    <table className="facts">
      <thead>
        <tr>
          <th>Query</th>
          <th className="num">Volume, est.</th>
          {pages.flatMap((i) => [
            <th key={`p${i}`} className="num" title="In the newest result list">
              {pages.length > 1 && <span className={`swatch s${i}`} aria-hidden />} Position
            </th>,
            known && (
              <th key={`a${i}`} className="num" title="Average in search performance">
                Average
              </th>
            ),
            known && (
              <th key={`c${i}`} className="num">
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
            <td className="num">{number(q.volume)}</td>
            {pages.flatMap((i) => [
              <td key={`p${i}`} className="num">
                {q.positions[i] || '–'}
              </td>,
              known && (
                <td key={`a${i}`} className="num">
                  {decimal(q.averagePositions[i], 1)}
                </td>
              ),
              known && (
                <td key={`c${i}`} className="num">
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

function Decide({ view, host }: { view: View; host: string | undefined }) {
  const { finding, pages, step } = view;
  const navigate = useNavigate();
  const [decision, setDecision] = useState<Decision | undefined>(step?.remedy ?? undefined);
  const [keep, setKeep] = useState<number | undefined>(step?.pageId ?? pages[0]?.page.id);
  const [note, setNote] = useState(step?.note ?? '');
  const chosen = decisions.find((d) => d.value === decision);
  const back = () => void navigate(`/findings?id=${encodeURIComponent(finding.key)}`);
  const decide = useFormChange(
    () =>
      answer(
        api.POST('/api/conflicts/{key}/decision', {
          params: { path: { key: finding.key } },
          body: { decision: decision!, keepPageId: keep ?? null, note, version: finding.version },
        }),
      ),
    (row) => {
      back();
      return row.remedyName ? `Decided: ${row.remedyName}. It is a step of the plan now.` : 'Decided.';
    },
  );
  const takeBack = useChange(
    () => answer(api.DELETE('/api/conflicts/{key}/decision', { params: { path: { key: finding.key } } })),
    () => {
      setDecision(undefined);
      setNote('');
      return 'Decision withdrawn; the finding is open again.';
    },
  );
  const possible = decisions.filter((d) => pages.length > 1 || d.alone);
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        if (decision) decide.mutate(undefined);
      }}
      onKeyDown={(event) => {
        const at = Number(event.key);
        if (!(event.target instanceof HTMLInputElement && event.target.type === 'text') && possible[at - 1])
          setDecision(possible[at - 1]!.value);
      }}
    >
      <h2>Decide</h2>
      {view.signs.map((sentence) => (
        <p key={sentence} className="wrap">
          {sentence}
        </p>
      ))}
      {step && (
        <p>
          Decided already: <b>{step.remedyName}</b>.{' '}
          {step.waits ? 'It resolves itself with the next scan or data.' : 'Its cause has gone.'}{' '}
          <button type="button" className="chip" onClick={() => takeBack.mutate(undefined)}>
            take it back
          </button>
        </p>
      )}
      <Radio.Group
        className="choices"
        value={decision}
        onChange={(event) => setDecision(event.target.value as Decision)}
        aria-label="Decision"
      >
        {possible.map((d, i) => (
          <Radio key={d.value} value={d.value}>
            <kbd>{i + 1}</kbd> <b>{d.says}</b>
            <div className="second">{d.does}</div>
          </Radio>
        ))}
      </Radio.Group>
      {pages.length > 1 && decision !== 'deliberate' && decision !== 'leave' && (
        <label>
          <span>{decision === 'newTarget' ? 'Which page keeps these searches?' : 'Which page is kept?'}</span>
          <Radio.Group
            className="choices"
            value={keep}
            onChange={(event) => setKeep(event.target.value as number)}
            aria-label="Which page is kept"
          >
            {pages.map((p, i) => (
              <Radio key={p.page.id} value={p.page.id}>
                <span className={`swatch s${i}`} aria-hidden /> {shortUrl(p.page.url, host)}
              </Radio>
            ))}
          </Radio.Group>
        </label>
      )}
      <label>
        <span>{chosen?.needsNote ? 'Why?' : 'Note, for whoever does it'}</span>
        <Input.TextArea rows={2} value={note} maxLength={2000} onChange={(event) => setNote(event.target.value)} />
        {decide.error instanceof ApiError && <div className="fault">{decide.error.message}</div>}
      </label>
      <div className="acts">
        <Button
          type="primary"
          htmlType="submit"
          loading={decide.isPending}
          disabled={!decision || (chosen?.needsNote && note.trim() === '')}
        >
          Decide
        </Button>
        <Button onClick={back}>Back</Button>
      </div>
    </form>
  );
}
