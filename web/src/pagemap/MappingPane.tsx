import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { mappingEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { focusList } from '../app/keys';
import { BriefButton, CheckPageButton } from '../briefs/BriefButton';
import { andExpected } from '../pieces/Expected';
import { counted, decimal, number, percent, shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { Rivals } from '../pieces/Rivals';
import { Failed, Reading } from '../pieces/States';

/** What is asked for beside the pages that are proposed. */
export type Wish = 'new' | 'other' | 'decline' | undefined;

/** The pages that could serve a cluster, with the facts, and the decision. */
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
  wish: Wish;
  setWish: (wish: Wish) => void;
  assign: (pageId: number, version?: string | null) => void;
  clear: (version?: string | null) => void;
}) {
  const mapping = useQuery(mappingEvidence(clusterId));
  usePlaceName(mapping.data?.cluster.name);
  if (mapping.isError) return <Failed error={mapping.error} retry={() => void mapping.refetch()} />;
  if (!mapping.data) return <Reading />;
  const { cluster, candidates, rivals } = mapping.data;
  return (
    <>
      <h2>Which page for “{cluster.name}”?</h2>
      <p>
        {counted(cluster.size, 'keyword')}
        {andExpected(cluster.expected)}, demand {number(cluster.demand)} a month, estimated
        {cluster.intent && `, ${cluster.intent} intent`}.{' '}
        <Link to={`/clusters?id=${cluster.id}`}>Why they belong together</Link>
      </p>
      {cluster.pageUrl && (
        <p>
          Decided: <b style={{ wordBreak: 'break-all' }}>{shortUrl(cluster.pageUrl, host)}</b>, {cluster.pageKind}.
        </p>
      )}
      {cluster.declined && (
        <p>
          Declined: no page is wanted, because: <b>{cluster.declined}</b>.
        </p>
      )}
      <p>{advice(cluster)}</p>
      <div className="acts">
        {cluster.suggestedPageId !== null && cluster.suggestedPageId !== cluster.pageId && (
          <Button
            type={cluster.verdict === 'clear' ? 'primary' : 'default'}
            onClick={() => assign(cluster.suggestedPageId!, cluster.version)}
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
        {!cluster.declined && (
          <Button onClick={() => setWish('decline')}>
            Decline <kbd>d</kbd>
          </Button>
        )}
        {(cluster.pageUrl ?? cluster.declined) && (
          <Button onClick={() => clear(cluster.version)}>
            Unassign <kbd>x</kbd>
          </Button>
        )}
        {cluster.pageUrl && <BriefButton clusterId={cluster.id} />}
        {cluster.pageId !== null && cluster.pageKind === 'existing' && <CheckPageButton pageId={cluster.pageId} />}
      </div>
      {wish === 'new' && <PlanPage mapping={mapping.data} close={() => setWish(undefined)} />}
      {wish === 'decline' && <DeclineForm cluster={cluster} close={() => setWish(undefined)} />}
      {wish === 'other' && (
        <OtherPage host={host} assign={(pageId) => assign(pageId, cluster.version)} close={() => setWish(undefined)} />
      )}
      <hr />
      <h2>Candidates</h2>
      {candidates.length === 0 && <p>No page of the site is in its results or mentions its words.</p>}
      {candidates.map((candidate, i) => (
        <Candidate
          key={candidate.page.pageId}
          place={i + 1}
          candidate={candidate}
          host={host}
          performanceDays={mapping.data.performanceDays}
          chosen={candidate.page.pageId === cluster.pageId}
          assign={(pageId) => assign(pageId, cluster.version)}
        />
      ))}
      <hr />
      <h2>Strongest rivals</h2>
      <Rivals rivals={rivals} keywords={cluster.size} />
    </>
  );
}

function advice(cluster: Schema['ClusterRow']): string {
  const lost = cluster.lostTo ? ` Its strongest page serves “${cluster.lostTo}” better, so it is suggested there.` : '';
  switch (cluster.verdict) {
    case 'clear':
      return `One page fits well and is ahead of the next.${lost}`;
    case 'doubtful':
      return `A page fits somewhat, another is nearly as strong, or another is about it by title and address. Look at the facts before accepting.${lost}`;
    default:
      return `No page of the site fits. Plan one, or choose another page.${lost}`;
  }
}

function Candidate({
  place,
  candidate,
  host,
  performanceDays,
  chosen,
  assign,
}: {
  place: number;
  candidate: Schema['CandidateView'];
  host: string | undefined;
  performanceDays: number;
  chosen: boolean;
  assign: (pageId: number) => void;
}) {
  const { page, standings, seenFor, keywords, notMentioned, notMentionedCount } = candidate;
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
      {candidate.caution && <div className="clay">{candidate.caution}</div>}
      {page.assignedTo && <div className="clay">Already the page of “{page.assignedTo}”.</div>}
      <div className="why">
        results{' '}
        {page.results === null
          ? 'not captured'
          : `${percent(page.results)} of what position 1 would bring, in ${seenFor} of ${keywords} lists`}{' '}
        · performance{' '}
        {performanceDays === 0
          ? 'not brought yet'
          : page.performance === null
            ? 'none for these queries'
            : `${percent(page.performance)}, ${counted(candidate.clicks, 'click')} of ${number(candidate.impressions)} impressions in ${performanceDays} days`}{' '}
        · text {page.text === null ? 'not known' : percent(page.text)}
        {page.text !== null && !candidate.isRead && ', without its main text'}{' '}
        <button className="chip" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'less' : 'facts'}
        </button>
        {open && standings.length > 0 && (
          <table className="facts">
            <thead>
              <tr>
                <th>Keyword</th>
                <th className="num">Volume, est.</th>
                <th className="num" title="In the newest result list">
                  Position
                </th>
                {performanceDays > 0 && <th className="num">Clicks</th>}
              </tr>
            </thead>
            <tbody>
              {standings.map((s) => (
                <tr key={s.keyword}>
                  <td>{s.keyword}</td>
                  <td className="num">{number(s.volume)}</td>
                  <td className="num">
                    {s.position || (s.averagePosition === null ? '–' : `avg. ${decimal(s.averagePosition, 1)}`)}
                  </td>
                  {performanceDays > 0 && <td className="num">{number(s.clicks)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {open && notMentionedCount > 0 && (
          <div>
            {candidate.isRead ? 'It does not' : 'Its title, headings and address do not'} mention all words of{' '}
            {counted(notMentionedCount, 'keyword')}: {notMentioned.join(', ')}
            {notMentionedCount > notMentioned.length && ' …'}
          </div>
        )}
      </div>
    </div>
  );
}

function DeclineForm({ cluster, close }: { cluster: Schema['ClusterRow']; close: () => void }) {
  const decline = useFormChange(
    (reason: string) =>
      answer(
        api.POST('/api/page-map/{clusterId}/decline', {
          params: { path: { clusterId: cluster.id } },
          body: { reason, version: cluster.version },
        }),
      ),
    (row) => {
      close();
      focusList();
      return `${row.name} gets no page.`;
    },
  );
  return (
    <ReasonForm
      question="Why no page?"
      placeholder="such as: we do not sell these"
      act="Decline"
      busy={decline.isPending}
      fault={decline.error instanceof ApiError ? decline.error.message : undefined}
      submit={decline.mutate}
      close={close}
    />
  );
}

function PlanPage({ mapping, close }: { mapping: Schema['MappingView']; close: () => void }) {
  const [url, setUrl] = useState(mapping.proposedUrl);
  const [workingTitle, setWorkingTitle] = useState(mapping.proposedTitle);
  const [form, setForm] = useState(mapping.proposedForm);
  const [topicId, setTopicId] = useState(mapping.cluster.topicId);
  const plan = useFormChange(
    () =>
      answer(
        api.POST('/api/page-map/{clusterId}/planned', {
          params: { path: { clusterId: mapping.cluster.id } },
          body: { url, workingTitle, form, topicId, version: mapping.cluster.version },
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
      <label>
        <span>What kind of page</span>
        <Select
          style={{ width: '100%' }}
          value={form}
          options={forms}
          onChange={setForm}
          aria-label="What kind of page"
        />
      </label>
      <label>
        <span>Topic it belongs to</span>
        <TopicSelect value={topicId} name={mapping.cluster.topicName} onChange={setTopicId} />
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

const forms: { value: Schema['PageForm']; label: string }[] = [
  { value: 'guide', label: 'guide' },
  { value: 'comparison', label: 'comparison' },
  { value: 'category', label: 'category' },
  { value: 'product', label: 'product' },
  { value: 'answer', label: 'answer to a question' },
  { value: 'other', label: 'something else' },
];

function TopicSelect({
  value,
  name,
  onChange,
}: {
  value: number | null;
  name: string | null;
  onChange: (topicId: number | null) => void;
}) {
  const [search, setSearch] = useState('');
  const topics = useQuery({
    queryKey: keyOf('topics', 'to choose', search),
    queryFn: () => answer(api.GET('/api/topics', { params: { query: { Search: search, Limit: 30 } } })),
  });
  const options = topics.data?.rows.map((t) => ({ value: t.id, label: t.name })) ?? [];
  return (
    <Select
      style={{ width: '100%' }}
      aria-label="Topic it belongs to"
      value={value ?? undefined}
      placeholder="none"
      allowClear
      showSearch={{ filterOption: false, onSearch: setSearch }}
      options={
        value !== null && name && !options.some((o) => o.value === value)
          ? [{ value, label: name }, ...options]
          : options
      }
      onChange={(next?: number) => onChange(next ?? null)}
    />
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
    queryKey: keyOf('other-pages', search),
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
