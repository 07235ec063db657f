import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { topicEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { ChangeForm } from '../pieces/ChangeForm';
import { giveClusters } from '../pieces/drag';
import { andExpected } from '../pieces/Expected';
import { counted, decimal, number, percent } from '../pieces/format';
import { DemandCalendar } from '../pieces/Season';
import { PlotMark } from '../pieces/PlotMark';
import { RenameForm } from '../pieces/RenameForm';
import { Failed, Reading } from '../pieces/States';
import { Ideas } from './Ideas';
import { TopicSelect } from './TopicSelect';
import styles from './topics.module.css';
import ui from '../pieces/ui.module.css';

type Cluster = Schema['ClusterRow'];

/** A topic as an indented outline: the pillar, what supports it, and how they hang together. */
export function TopicPane({ id }: { id: number }) {
  const topic = useQuery(topicEvidence(id));
  usePlaceName(topic.data?.topic.name);
  const [open, setOpen] = useState<number>();
  const edit = (body: Partial<Schema['TopicChange']>) =>
    answer(
      api.PUT('/api/topics/{id}', {
        params: { path: { id } },
        body: { name: null, pillarId: null, version: topic.data?.topic.version, ...body },
      }),
    );
  const change = useChange(edit);
  const move = useChange(
    ({ clusterId, topicId }: { clusterId: number; topicId: number | null }) =>
      answer(api.POST('/api/topics/move', { body: { clusterIds: [clusterId], topicId } })),
    () => 'Moved.',
  );
  if (topic.isError) return <Failed error={topic.error} retry={() => void topic.refetch()} />;
  if (!topic.data) return <Reading />;
  const { topic: row, clusters, moreClusters, links, support, subtopics } = topic.data;
  const names = new Map(clusters.map((c) => [c.id, c.name]));
  const linkOf = new Map(links.map((l) => [`${l.clusterId} ${l.otherClusterId}`, l.weight]));
  const pages = new Map(support.map((s) => [s.clusterId, s]));
  const saysOf = (cluster: Cluster) =>
    cluster.id === row.pillarId
      ? 'pillar'
      : [
          relation(cluster, row, linkOf, links, names),
          pages.has(cluster.id) ? pageLinks(pages.get(cluster.id)!) : undefined,
        ]
          .filter(Boolean)
          .join('; ');
  return (
    <>
      <h2>{row.name}</h2>
      <p>
        {counted(row.clusters, 'cluster')} with {counted(row.keywords, 'keyword')}
        {andExpected(row.expected)}, demand {number(row.demand)} a month, estimated;{' '}
        {percent(row.coveredDemand / Math.max(1, row.demand))} of it covered.{' '}
        <Link to={`/clusters?inTopic=${row.id}`}>Show them one by one</Link>
      </p>
      {row.season && <DemandCalendar season={row.season} of={`“${row.name}”`} />}
      <ul className={styles.outline} aria-label="Outline of the topic">
        {clusters.map((cluster) => (
          <li
            key={cluster.id}
            className={cluster.id === row.pillarId ? styles.pillar : styles.support}
            draggable
            onDragStart={(event) => giveClusters(event.dataTransfer, [cluster.id])}
          >
            <PlotMark mark={cluster.mark} />
            <span className={styles.name}>
              <Link to={`/clusters?id=${cluster.id}`}>{cluster.name}</Link>
            </span>
            <span className={ui.num}>{number(cluster.demand)}</span>
            <button
              className={ui.chip}
              aria-expanded={open === cluster.id}
              onClick={() => setOpen(open === cluster.id ? undefined : cluster.id)}
            >
              change
            </button>
            <span className={`${styles.links} ${ui.second}`}>{saysOf(cluster)}</span>
            {open === cluster.id && (
              <span className={`${styles.links} ${ui.acts}`}>
                <Button
                  size="small"
                  disabled={cluster.id === row.pillarId}
                  onClick={() => change.mutate({ pillarId: cluster.id })}
                >
                  Make pillar
                </Button>
                <TopicSelect
                  not={row.id}
                  size="small"
                  label="Move to topic…"
                  placeholder="Move to topic…"
                  onChange={(topicId) => topicId !== null && move.mutate({ clusterId: cluster.id, topicId })}
                />
                <Button
                  size="small"
                  disabled={clusters.length === 1}
                  onClick={() => move.mutate({ clusterId: cluster.id, topicId: null })}
                >
                  Own topic
                </Button>
              </span>
            )}
          </li>
        ))}
        {subtopics.map((subtopic) => (
          <SubtopicLine key={`s${subtopic.id}`} subtopic={subtopic} />
        ))}
      </ul>
      {moreClusters > 0 && (
        <p className={ui.quiet}>
          The {number(clusters.length)} of most demand are listed, {number(moreClusters)} more are in the topic.
        </p>
      )}
      <NewSubtopic topicId={id} />
      <hr />
      <h2>Edit</h2>
      <RenameForm label="Name of the topic" name={row.name} rename={(name) => edit({ name })}>
        {row.isNamed && <Button onClick={() => change.mutate({ name: '' })}>Call it by its pillar</Button>}
      </RenameForm>
      <p className={ui.quiet}>
        A link counts the results that two clusters share on average, the rarer the more, and words in common. Drag a
        cluster of the outline onto another topic of the list, or press “change” beside it. What you move stays when
        topics are rebuilt.
      </p>
      <hr />
      <Ideas topic={row} />
    </>
  );
}

/** How a supporting cluster is related to the pillar, or else to which other cluster. */
function relation(
  cluster: Cluster,
  topic: Schema['TopicRow'],
  linkOf: Map<string, number>,
  links: readonly Schema['TopicLink'][],
  names: Map<number, string>,
) {
  const withPillar = linkOf.get(`${cluster.id} ${topic.pillarId}`);
  if (withPillar !== undefined) return `related to the pillar (${decimal(withPillar, 2)} of 1)`;
  const other = links.find((l) => l.clusterId === cluster.id);
  return other
    ? `related to ${names.get(other.otherClusterId) ?? 'another cluster'} (${decimal(other.weight, 2)} of 1)`
    : 'moved here, related to none';
}

/** Whether its page and that of the pillar link to each other. */
function pageLinks({ toPillar, fromPillar }: Schema['SupportLink']) {
  if (toPillar === null && fromPillar === null) return undefined;
  if (toPillar && fromPillar) return 'pages link both ways';
  if (toPillar) return fromPillar === false ? 'page links to the pillar, not back' : 'page links to the pillar';
  if (fromPillar) return toPillar === false ? 'pillar links to its page, not back' : 'pillar links to its page';
  return 'pages do not link';
}

function SubtopicLine({ subtopic }: { subtopic: Schema['Subtopic'] }) {
  const remove = useChange(
    () => answer(api.DELETE('/api/topics/subtopics/{id}', { params: { path: { id: subtopic.id } } })),
    () => 'Taken out.',
  );
  return (
    <li className={styles.support}>
      <span aria-hidden="true">◌</span>
      <span className={styles.name}>{subtopic.phrase}</span>
      <span className={`${ui.num} ${ui.quiet}`}>{subtopic.clusterId ? '' : 'no volume yet'}</span>
      <button className={ui.chip} onClick={() => remove.mutate(undefined)}>
        take out
      </button>
      <span className={`${styles.links} ${ui.second}`}>
        {subtopic.clusterId ? (
          <>
            came into <Link to={`/clusters?id=${subtopic.clusterId}`}>{subtopic.clusterName}</Link>
          </>
        ) : (
          'waits for keywords'
        )}
        {subtopic.note && ` · ${subtopic.note}`}
      </span>
    </li>
  );
}

/** A subtopic that the planner heard of; it waits for keywords. */
const NewSubtopic = ({ topicId }: { topicId: number }) => (
  <ChangeForm
    values={{ phrase: '', note: '' }}
    change={(body) => answer(api.POST('/api/topics/{id}/subtopics', { params: { path: { id: topicId } }, body }))}
    done={() => 'Added. It waits for keywords.'}
    act="Add subtopic"
    isReady={(form) => form.phrase.trim() !== ''}
    isPlain
    isLine
    clears={['phrase', 'note']}
  >
    <Form.Item name="phrase">
      <Input aria-label="Subtopic to add" placeholder="a subtopic you heard of" className={ui.medium} />
    </Form.Item>
    <Form.Item name="note">
      <Input aria-label="Where it was heard" placeholder="where, if you like" className={ui.short} />
    </Form.Item>
  </ChangeForm>
);
