import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { focusList } from '../app/keys';
import { counted, decimal, number, percent, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';

/** The pages that could stand for a cluster, with the facts, and the decision. */
export function MappingPane({
  clusterId,
  host,
  wish,
  setWish,
  assign,
  clear,
}: {
  clusterId: number;
  host: string | undefined;
  wish: 'new' | 'other' | undefined;
  setWish: (wish: 'new' | 'other' | undefined) => void;
  assign: (pageId: number) => void;
  clear: () => void;
}) {
  const mapping = useQuery({
    queryKey: ['mapping', clusterId],
    queryFn: () => answer(api.GET('/api/page-map/{clusterId}', { params: { path: { clusterId } } })),
  });
  if (mapping.isError) return <Failed error={mapping.error} retry={() => void mapping.refetch()} />;
  if (!mapping.data) return <Reading />;
  const { cluster, candidates, rivals } = mapping.data;
  return (
    <>
      <h2>Which page for “{cluster.name}”?</h2>
      <p>
        {counted(cluster.size, 'keyword')}, demand {number(cluster.demand)} a month, estimated
        {cluster.intent && `, ${cluster.intent} intent`}.{' '}
        <Link to={`/clusters?id=${cluster.id}`}>Why they stand together</Link>
      </p>
      {cluster.pageUrl && (
        <p>
          Decided: <b style={{ wordBreak: 'break-all' }}>{shortUrl(cluster.pageUrl, host)}</b>, {cluster.pageKind}.
        </p>
      )}
      <p>{advice(cluster)}</p>
      <div className="acts">
        {cluster.suggestedPageId !== null && cluster.suggestedPageId !== cluster.pageId && (
          <Button
            type={cluster.verdict === 'clear' ? 'primary' : 'default'}
            onClick={() => assign(cluster.suggestedPageId!)}
          >
            Accept <kbd>a</kbd>
          </Button>
        )}
        <Button
          type={cluster.verdict === 'none' && !cluster.pageUrl ? 'primary' : 'default'}
          onClick={() => setWish('new')}
        >
          Plan a new page <kbd>n</kbd>
        </Button>
        <Button onClick={() => setWish('other')}>
          Another page <kbd>o</kbd>
        </Button>
        {cluster.pageUrl && (
          <Button onClick={clear}>
            Take away <kbd>x</kbd>
          </Button>
        )}
      </div>
      {wish === 'new' && <PlanPage mapping={mapping.data} close={() => setWish(undefined)} />}
      {wish === 'other' && <OtherPage host={host} assign={assign} close={() => setWish(undefined)} />}
      <hr />
      <h2>Candidates</h2>
      {candidates.length === 0 && <p>No page of the site stands in its results or mentions its words.</p>}
      {candidates.map((candidate, i) => (
        <Candidate
          key={candidate.page.pageId}
          place={i + 1}
          candidate={candidate}
          size={cluster.size}
          host={host}
          chosen={candidate.page.pageId === cluster.pageId}
          assign={assign}
        />
      ))}
      <hr />
      <h2>Strongest rivals</h2>
      <table className="facts">
        <thead>
          <tr>
            <th>Page</th>
            <th className="num">Clicks, est.</th>
            <th className="num">Keywords</th>
          </tr>
        </thead>
        <tbody>
          {rivals.map((r) => (
            <tr key={r.url}>
              <td className="url">{r.url}</td>
              <td className="num">{number(r.clicks)}</td>
              <td className="num">
                {r.seenFor} of {cluster.size}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function advice(cluster: Schema['ClusterRow']): string {
  const lost = cluster.lostTo ? ` Its strongest page serves “${cluster.lostTo}” better, so it is suggested there.` : '';
  switch (cluster.verdict) {
    case 'clear':
      return `One page fits well and is ahead of the next.${lost}`;
    case 'doubtful':
      return `A page fits somewhat, or another is nearly as strong. Look at the facts before accepting.${lost}`;
    default:
      return `No page of the site fits. Plan one, or choose a page by hand.${lost}`;
  }
}

function Candidate({
  place,
  candidate,
  size,
  host,
  chosen,
  assign,
}: {
  place: number;
  candidate: Schema['CandidateView'];
  size: number;
  host: string | undefined;
  chosen: boolean;
  assign: (pageId: number) => void;
}) {
  const { page, seenFor, keywords, notMentioned } = candidate;
  const [open, setOpen] = useState(place === 1);
  return (
    <div className={chosen ? 'candidate chosen' : 'candidate'}>
      <div className="line">
        <kbd>{place}</kbd>
        <span className="url">
          <b>{shortUrl(page.url, host)}</b>
          <div className="second">{page.title ?? 'title not known'}</div>
        </span>
        <span title="Strength, 0 to 100">
          <span className="bar" style={{ width: page.strength * 0.4 }} /> <b>{decimal(page.strength, 0)}</b>
        </span>
        {chosen ? (
          <span className="second">chosen</span>
        ) : (
          <Button size="small" onClick={() => assign(page.pageId)} aria-label={`Choose ${page.url}`}>
            Choose
          </Button>
        )}
      </div>
      <div className="why">
        results {percent(page.results)} of what position 1 would bring, in {keywords} of {size} lists · text{' '}
        {page.text === null ? 'not known' : percent(page.text)} · performance not brought yet{' '}
        <button className="chip" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'less' : 'facts'}
        </button>
        {page.assignedTo && <div className="clay">Already the page of “{page.assignedTo}”.</div>}
        {open && seenFor.length > 0 && (
          <table className="facts">
            <tbody>
              {seenFor.map((s) => (
                <tr key={s.keyword}>
                  <td>{s.keyword}</td>
                  <td className="num">{number(s.volume)} a month</td>
                  <td className="num">position {s.position}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {open && notMentioned.length > 0 && (
          <div>Its title, headings and address do not mention all words of: {notMentioned.join(', ')}.</div>
        )}
      </div>
    </div>
  );
}

function PlanPage({ mapping, close }: { mapping: Schema['MappingView']; close: () => void }) {
  const [url, setUrl] = useState(mapping.proposedUrl);
  const [workingTitle, setWorkingTitle] = useState(mapping.proposedTitle);
  const plan = useChange(
    () =>
      answer(
        api.POST('/api/page-map/{clusterId}/planned', {
          params: { path: { clusterId: mapping.cluster.id } },
          body: { url, workingTitle },
        }),
      ),
    (row) => {
      close();
      focusList();
      return `${row.pageUrl} is planned.`;
    },
  );
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        plan.mutate(undefined);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        close();
        focusList();
      }}
    >
      <label>
        <span>Address of the new page</span>
        <Input
          autoFocus
          value={url}
          onChange={(event) => setUrl(event.target.value)}
          status={plan.isError ? 'error' : undefined}
        />
        {plan.error instanceof ApiError && <div className="fault">{plan.error.message}</div>}
      </label>
      <label>
        <span>Working title</span>
        <Input value={workingTitle} onChange={(event) => setWorkingTitle(event.target.value)} />
      </label>
      <div className="acts">
        <Button type="primary" htmlType="submit" loading={plan.isPending}>
          Plan this page
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </form>
  );
}

function OtherPage({
  host,
  assign,
  close,
}: {
  host: string | undefined;
  assign: (pageId: number) => void;
  close: () => void;
}) {
  const [search, setSearch] = useState('');
  const pages = useQuery({
    queryKey: ['other-pages', search],
    queryFn: () => answer(api.GET('/api/pages', { params: { query: { Search: search, Limit: 30, Sort: 'url' } } })),
  });
  return (
    <div className="form">
      <label>
        <span>Any page of the site, existing or planned</span>
        <Select
          autoFocus
          defaultOpen
          showSearch={{ filterOption: false, onSearch: setSearch }}
          style={{ width: '100%' }}
          placeholder="search by address or title"
          notFoundContent={pages.isFetching ? 'Reading…' : 'No page fits.'}
          options={
            pages.data?.rows.map((p) => ({ value: p.id, label: `${shortUrl(p.url, host)}  ${p.title ?? ''}` })) ?? []
          }
          onSelect={(id: number) => {
            assign(id);
            close();
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Escape') return;
            close();
            focusList();
          }}
        />
      </label>
    </div>
  );
}
