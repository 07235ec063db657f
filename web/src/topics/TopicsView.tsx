import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { ViewSwitch } from '../clusters/ViewSwitch';
import { DataTable, type Column } from '../pieces/DataTable';
import { KeywordCount } from '../pieces/Expected';
import { counted, decimal, number, percent } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { clustersOf } from '../pieces/drag';
import { TopicPane } from './TopicPane';

type Row = Schema['TopicRow'];

const help = [
  { keys: 'Enter', does: 'show the clusters of the selected topic one by one' },
  { keys: 'g', does: 'rebuild topics' },
];

/** How much of the demand is covered, planned, contested; what is left empty is uncovered. */
export function Coverage({ topic }: { topic: Row }) {
  const parts = [
    ['covered', topic.coveredDemand],
    ['planned', topic.plannedDemand],
    ['contested', topic.contestedDemand],
  ] as const;
  const all = Math.max(1, topic.demand);
  const says = [
    ...parts,
    ['uncovered', topic.demand - parts.reduce((sum, [, demand]) => sum + demand, 0)] as const,
  ].map(([mark, demand]) => `${mark} ${percent(demand / all)}`);
  return (
    <span className="coverage" role="img" aria-label={says.join(', ')} title={says.join(', ')}>
      {parts.map(([mark, demand]) => (
        <span key={mark} className={mark} style={{ width: `${(demand / all) * 100}%` }} />
      ))}
    </span>
  );
}

/** Topics by demand, with how far each is covered. */
export function TopicsView() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  useKeyHelp(help);
  const gather = useChange(
    () => answer(api.POST('/api/topics/gather', {})),
    () => 'Topics gathered. Undo brings back those before.',
  );
  const move = useChange(
    ({ topicId, clusterIds }: { topicId: number; clusterIds: number[] }) =>
      answer(api.POST('/api/topics/move', { body: { topicId, clusterIds } })),
    () => 'Moved to the topic. Undo takes it back.',
  );
  const columns: Column<Row>[] = [
    { key: 'name', title: 'Topic', width: 'minmax(140px, 2fr)', render: (r) => <span title={r.name}>{r.name}</span> },
    { key: 'clusters', title: 'Clusters', width: '56px', numeric: true, render: (r) => number(r.clusters) },
    {
      key: 'keywords',
      title: 'Keywords',
      width: '70px',
      numeric: true,
      render: (r) => <KeywordCount captured={r.keywords} expected={r.expected} />,
    },
    { key: 'demand', title: 'Demand', width: '60px', numeric: true, render: (r) => number(r.demand) },
    {
      key: 'season',
      title: 'By month',
      width: '98px',
      sorts: false,
      render: (r) => <SeasonCell season={r.season ?? null} />,
    },
    { key: 'coverage', title: 'Coverage', width: '100px', sorts: false, render: (r) => <Coverage topic={r} /> },
    {
      key: 'covered',
      title: 'Covered',
      width: '66px',
      numeric: true,
      render: (r) => percent(r.coveredDemand / Math.max(1, r.demand)),
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '66px',
      numeric: true,
      render: (r) => (r.atStake >= 0.5 ? number(r.atStake) : <span className="quiet">0</span>),
    },
    {
      key: 'waiting',
      title: 'Waiting',
      width: '60px',
      numeric: true,
      sorts: false,
      render: (r) => (r.waiting > 0 ? number(r.waiting) : <span className="quiet">0</span>),
    },
  ];
  const selected = list.text('topic');
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Topics</h1>
            <ViewSwitch list={list} />
            <span className="gap" />
            <Button href={exportUrl('/api/topics.csv', list.listing)}>Export CSV</Button>
            <Button loading={gather.isPending} onClick={() => gather.mutate(undefined)}>
              Rebuild topics
            </Button>
          </div>
          <DataTable
            name="topics"
            query={list.listing}
            read={(Offset, Limit) =>
              answer(api.GET('/api/topics', { params: { query: { ...list.listing, Offset, Limit } } }))
            }
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => list.set({ topic: r.id })}
            onKey={(key, at) => {
              if (key === 'g') gather.mutate(undefined);
              else if (key === 'Enter' && at)
                list.set({ view: undefined, inTopic: at.id, sort: undefined, down: undefined });
              else return false;
              return true;
            }}
            onDrop={(row, data) => {
              const clusterIds = clustersOf(data);
              if (clusterIds.length > 0) move.mutate({ topicId: row.id, clusterIds });
            }}
            onTally={setTally}
            empty={
              list.listing.Search ? (
                <NotYet title="No topic fits">Search for something else.</NotYet>
              ) : (
                <NotYet title="No topics yet">
                  <p>Topics are built from clusters with similar results or words. Group the keywords first.</p>
                  <Button type="primary" onClick={() => gather.mutate(undefined)}>
                    Gather topics
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        selected ? (
          <TopicPane key={selected} id={Number(selected)} />
        ) : (
          <>
            <Themes select={(id) => list.set({ topic: id })} />
            <Resolutions />
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="topic" keywords>
          <span className="quiet">filled covered, hatched planned, halved contested, empty uncovered</span>
        </Tally>
      }
    />
  );
}

/** The level above the topics, where there are many. */
function Themes({ select }: { select: (topic: number) => void }) {
  const themes = useQuery({ queryKey: ['themes'], queryFn: () => answer(api.GET('/api/topics/themes')) });
  if (themes.isError) return <Failed error={themes.error} retry={() => void themes.refetch()} />;
  if (!themes.data) return <Reading />;
  if (themes.data.length === 0) return null;
  return (
    <>
      <h2>{counted(themes.data.length, 'theme')} above the topics</h2>
      {themes.data.slice(0, 12).map((theme) => (
        <p key={theme.topics[0]!.id}>
          {theme.topics.map((t, i) => (
            <span key={t.id}>
              {i > 0 && ', '}
              <button className="chip quiet" onClick={() => select(t.id)}>
                {t.name}
              </button>
            </span>
          ))}
          {theme.count > theme.topics.length && ` and ${number(theme.count - theme.topics.length)} more`}
          <span className="quiet"> {counted(theme.demand, 'search', 'searches')} a month</span>
        </p>
      ))}
      <hr />
    </>
  );
}

/** How fine topics are, with what other resolutions would make of the clusters. */
function Resolutions() {
  const preview = useQuery({ queryKey: ['resolutions'], queryFn: () => answer(api.GET('/api/topics/resolutions')) });
  const gather = useChange(
    (resolution: number) => answer(api.POST('/api/topics/gather', { params: { query: { resolution } } })),
    () => 'Topics gathered. Undo brings back those before.',
  );
  if (preview.isError) return <Failed error={preview.error} retry={() => void preview.refetch()} />;
  if (!preview.data) return <Reading />;
  const { resolution, rows } = preview.data;
  if (rows.length === 0) return null;
  return (
    <>
      <h2>Broader or narrower topics</h2>
      <p>A higher resolution makes more and smaller topics, whose clusters share more.</p>
      <table className="facts">
        <thead>
          <tr>
            <th className="num">Resolution</th>
            <th className="num">Topics</th>
            <th className="num" title="Topics of a single cluster">
              Alone
            </th>
            <th className="num" title="Clusters of the largest topic">
              Largest
            </th>
            <th>About</th>
            <th aria-label="Use" />
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.resolution}>
              <td className="num">{decimal(row.resolution, 2)}</td>
              <td className="num">{number(row.topics)}</td>
              <td className="num">{number(row.alone)}</td>
              <td className="num">{number(row.largest)}</td>
              <td>{row.example}</td>
              <td className="num">
                {row.resolution === resolution ? (
                  <span className="quiet">in use</span>
                ) : (
                  <button className="chip" disabled={gather.isPending} onClick={() => gather.mutate(row.resolution)}>
                    use
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
