import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { type Schema } from '../api/client';
import { mappingEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { BriefButton, CheckPageButton } from '../briefs/BriefButton';
import { andExpected } from '../pieces/Expected';
import { counted, number, shortUrl } from '../pieces/format';
import { Rivals } from '../pieces/Rivals';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';
import { Candidate } from './Candidate';
import { DeclineForm, PlanPage, OtherPage } from './PlanPage';

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
          Decided: <b className={ui.wrap}>{shortUrl(cluster.pageUrl, host)}</b>, {cluster.pageKind}.
        </p>
      )}
      {cluster.declined && (
        <p>
          Declined: no page is wanted, because: <b>{cluster.declined}</b>.
        </p>
      )}
      <p>{advice(cluster)}</p>
      <div className={ui.acts}>
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
