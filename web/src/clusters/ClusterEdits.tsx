import { useQuery } from '@tanstack/react-query';
import { Button, type RefSelectProps, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { isTyping } from '../app/keys';
import { andExpected } from '../pieces/Expected';
import { counted, decimal, number, percent } from '../pieces/format';
import { RenameForm } from '../pieces/RenameForm';
import { TopicSelect } from '../topics/TopicSelect';
import { Decline } from './Decline';
import ui from '../pieces/ui.module.css';

type Row = Schema['ClusterRow'];

/** A cluster found by typing part of its name. */
export function ClusterSelect({
  not,
  label,
  onChoose,
  value,
  inner,
}: {
  not: number;
  label: string;
  /** To give it the keys. */
  inner?: React.Ref<RefSelectProps>;
  onChoose: (id: number | undefined) => void;
  value?: number | undefined;
}) {
  const [search, setSearch] = useState('');
  const found = useQuery({
    queryKey: keyOf('clusters', 'named', search),
    queryFn: () => answer(api.GET('/api/clusters', { params: { query: { Search: search, Limit: 20 } } })),
  });
  return (
    <Select
      ref={inner}
      showSearch={{ filterOption: false, onSearch: setSearch }}
      allowClear
      aria-label={label}
      placeholder={label}
      className={ui.atLeast}
      value={value ?? null}
      onChange={(id) => onChoose(id ?? undefined)}
      loading={found.isFetching}
      notFoundContent="No cluster has that in its name"
      options={(found.data?.rows ?? [])
        .filter((c) => c.id !== not)
        .map((c) => ({ value: c.id, label: `${c.name} (${number(c.size)})` }))}
    />
  );
}

/** Where the cluster would come apart first, to tick the keywords that would leave. */
export function CutSuggestion({ cluster, tick }: { cluster: Row; tick: (ids: number[]) => void }) {
  const [asked, setAsked] = useState(false);
  const found = useQuery({
    queryKey: keyOf('cluster', cluster.id, 'cut'),
    enabled: asked,
    queryFn: () => answer(api.GET('/api/clusters/{id}/cut', { params: { path: { id: cluster.id } } })),
  });
  if (cluster.size < 3) return null;
  if (!asked)
    return (
      <p>
        <button className={ui.chip} onClick={() => setAsked(true)}>
          suggest a cut
        </button>
      </p>
    );
  if (!found.data) return <p role="status">Looking for a cut…</p>;
  const { cut } = found.data;
  if (!cut)
    return <p role="status">No minimum overlap splits it into groups: a higher one only drops single keywords.</p>;
  return (
    <p role="status">
      At a minimum of {cut.minOverlap}, {counted(cut.apart.length, 'keyword')} would leave, around{' '}
      {cut.heads
        .slice(0, 3)
        .map((h) => `“${h}”`)
        .join(', ')}
      : they share {decimal(cut.overlapApart, 1)} results with each other and {decimal(cut.overlapAcross, 1)} with those
      that stay.{' '}
      <button className={ui.chip} onClick={() => tick([...cut.apart])}>
        tick them
      </button>
    </p>
  );
}

/** Moves, splits off, or makes primary the members that are ticked. */
export function MemberEdits({
  cluster,
  chosen,
  clear,
}: {
  cluster: Row;
  chosen: readonly number[];
  clear: () => void;
}) {
  const [warning, setWarning] = useState<string | null>(null);
  const target = useRef<RefSelectProps>(null);
  const move = useChange(
    (toClusterId: number | null) =>
      answer(api.POST('/api/clusters/move', { body: { keywordIds: [...chosen], toClusterId } })),
    (done) => {
      setWarning(done.warning);
      clear();
      return `${counted(chosen.length, 'keyword')} moved.`;
    },
  );
  const primary = useChange(
    (primaryKeywordId: number) =>
      answer(
        api.PUT('/api/clusters/{id}', {
          params: { path: { id: cluster.id } },
          body: { name: null, primaryKeywordId, isLocked: null, version: cluster.version },
        }),
      ),
    () => {
      clear();
      return 'Primary changed.';
    },
  );
  const split = move.mutate;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (chosen.length === 0 || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === 'm') target.current?.focus();
      else if (event.key === 's' && chosen.length < cluster.size) split(null);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [chosen, cluster.size, split]);
  return (
    <>
      {chosen.length > 0 && (
        <div className={ui.acts} role="group" aria-label="What to do with the ticked keywords">
          <ClusterSelect
            inner={target}
            not={cluster.id}
            label={`Move ${number(chosen.length)} to…`}
            onChoose={(id) => id !== undefined && move.mutate(id)}
          />
          <Button disabled={chosen.length === cluster.size} onClick={() => move.mutate(null)}>
            Split off
          </Button>
          <Button
            disabled={chosen.length !== 1 || chosen[0] === cluster.primaryKeywordId}
            onClick={() => chosen[0] !== undefined && primary.mutate(chosen[0])}
          >
            Make primary
          </Button>
          <Decline selection={{ ids: [...chosen], filter: null, search: null }} done={clear}>
            <Button>Decline…</Button>
          </Decline>
        </div>
      )}
      {warning && (
        <p className={ui.clay} role="status">
          {warning}
        </p>
      )}
    </>
  );
}

/** Name and lock of a cluster, and merging it with another. */
export function ClusterEdits({ cluster }: { cluster: Row }) {
  const [other, setOther] = useState<number>();
  const edit = (body: Partial<Schema['ClusterEdit']>) =>
    answer(
      api.PUT('/api/clusters/{id}', {
        params: { path: { id: cluster.id } },
        body: { name: null, primaryKeywordId: null, isLocked: null, version: cluster.version, ...body },
      }),
    );
  const change = useChange(edit);
  const toTopic = useChange(
    (topicId: number) => answer(api.POST('/api/topics/move', { body: { clusterIds: [cluster.id], topicId } })),
    () => 'Moved to the topic.',
  );
  const merge = useChange(
    (id: number) =>
      answer(
        api.POST('/api/clusters/{id}/merge/{other}', {
          params: { path: { id: cluster.id, other: id }, query: { version: cluster.version ?? undefined } },
        }),
      ),
    () => {
      setOther(undefined);
      return 'Merged.';
    },
  );
  return (
    <>
      <h2>Edit</h2>
      <RenameForm label="Name of the cluster" name={cluster.name} rename={(name) => edit({ name })}>
        <Button
          title={cluster.isLocked ? 'A re-grouping may change it again' : 'A re-grouping leaves it as it is'}
          onClick={() => change.mutate({ isLocked: !cluster.isLocked })}
        >
          {cluster.isLocked ? 'Unlock' : 'Lock'}
        </Button>
      </RenameForm>
      <div className={ui.acts}>
        <ClusterSelect not={cluster.id} label="Merge with…" value={other} onChoose={setOther} />
        {other !== undefined && (
          <Button type="primary" loading={merge.isPending} onClick={() => merge.mutate(other)}>
            Merge
          </Button>
        )}
      </div>
      {other !== undefined && <Together id={cluster.id} other={other} />}
      <p>
        {cluster.topicName ? (
          <>
            In the topic <Link to={`/clusters?view=topics&topic=${cluster.topicId}`}>{cluster.topicName}</Link>.
          </>
        ) : (
          'In no topic yet.'
        )}{' '}
        <TopicSelect
          size="small"
          not={cluster.topicId}
          label="Move to topic…"
          placeholder="Move to topic…"
          onChange={(id) => id !== null && toTopic.mutate(id)}
        />
      </p>
      {cluster.isLocked && <p className={ui.quiet}>Locked: a re-grouping leaves it as it is.</p>}
    </>
  );
}

/** What two clusters share, and what they would be together. */
function Together({ id, other }: { id: number; other: number }) {
  const { data } = useQuery({
    queryKey: keyOf('together', id, other),
    queryFn: () => answer(api.GET('/api/clusters/{id}/with/{other}', { params: { path: { id, other } } })),
  });
  if (!data) return null;
  return (
    <div role="status">
      {data.warning && <p className={ui.clay}>{data.warning}</p>}
      <p>
        Their primaries share {data.primariesShare} of the first {data.depth} results; a keyword of the one and one of
        the other share {decimal(data.meanOverlap, 1)} on average. Together:{' '}
        {counted(data.first.size + data.second.size, 'keyword')}
        {andExpected(data.first.expected + data.second.expected)}, demand{' '}
        {number(data.first.demand + data.second.demand)}, two members share {percent(data.cohesion ?? 0)}
        {data.first.cohesion !== null && <> instead of {percent(data.first.cohesion)}</>}.
      </p>
      {data.sharedUrlCount > 0 && (
        <p className={ui.second}>
          {counted(data.sharedUrlCount, 'page')} in lists of both, most of all {data.sharedUrls.slice(0, 3).join(', ')}.
        </p>
      )}
    </div>
  );
}
