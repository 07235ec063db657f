import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { intents, type Intent } from '../keywords/intents';
import { DataTable, type Column } from '../pieces/DataTable';
import { Bound, Choice } from '../pieces/FilterSentence';
import { keywordsOf } from '../pieces/drag';
import { KeywordCount } from '../pieces/Expected';
import { StagesTally } from '../results/StagedPart';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import { marks, PlotLegend, PlotMark, type Mark } from '../pieces/PlotMark';
import { NotYet } from '../pieces/States';
import { peakOptions, SeasonCell, trendOptions } from '../pieces/Season';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState, type ListState } from '../pieces/useListState';
import { isFiltered } from '../site/SiteScreen';
import { TopicsView } from '../topics/TopicsView';
import { DriftPane, driftedIds, useDrift } from './DriftPane';
import { ClusterPane } from './ClusterPane';
import { NewKeywordsPane, useNewKeywords } from './NewKeywordsPane';
import { RegroupPane, ruleNames } from './RegroupPane';
import { ViewSwitch } from './ViewSwitch';

type Row = Schema['ClusterRow'];

const help = [
  { keys: 'g', does: 'regroup' },
  { keys: 'n', does: 'keywords without a cluster' },
  { keys: 'm', does: 'move the ticked members to another cluster' },
  { keys: 's', does: 'split the ticked members off' },
  { keys: 'Enter', does: 'open the selected cluster on the page map' },
];

/** Clusters one by one, or gathered into topics. */
export function ClustersScreen() {
  const list = useListState();
  return list.text('view') === 'topics' ? <TopicsView /> : <ClustersView list={list} />;
}

/** Clusters with their members and why they belong together. */
function ClustersView({ list }: { list: ListState }) {
  const navigate = useNavigate();
  const project = useProject().data;
  const host = project?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [pane, setPane] = useState<'regroup' | 'newKeywords' | 'drift'>();
  const drift = useDrift().data;
  const drifted = driftedIds(drift);
  const newKeywords = useNewKeywords().data;
  const waiting = newKeywords ? newKeywords.placed + newKeywords.left : 0;
  const topicId = list.numeric('inTopic');
  const topic = useQuery({
    queryKey: ['topic', topicId],
    enabled: topicId !== undefined,
    queryFn: () => answer(api.GET('/api/topics/{id}', { params: { path: { id: topicId! } } })),
  }).data?.topic;
  const move = useChange(
    ({ toClusterId, keywordIds }: { toClusterId: number; keywordIds: number[] }) =>
      answer(api.POST('/api/clusters/move', { body: { toClusterId, keywordIds } })),
    (done) => done.warning ?? 'Moved. Undo takes it back.',
  );
  const [row, setRow] = useState<Row>();
  useKeyHelp(help);
  const query = {
    ...list.listing,
    Mark: list.text('mark') as Mark | undefined,
    MinDemand: list.numeric('demand'),
    MinSize: list.numeric('size'),
    Intent: list.text('intent') as Intent | undefined,
    Trend: list.text('trend') as Schema['Direction'] | undefined,
    PeakMonth: list.numeric('peak'),
    TopicId: topicId,
  };
  const columns: Column<Row>[] = [
    { key: 'mark', title: '', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.mark} /> },
    {
      key: 'name',
      title: 'Cluster',
      width: 'minmax(110px, 2.6fr)',
      render: (r) => (
        <span title={r.name}>
          {r.name}
          {r.isLocked && <span className="quiet"> locked</span>}
          {drifted.has(r.id) && <span className="clay"> drifted</span>}
        </span>
      ),
    },
    {
      key: 'size',
      title: 'Keywords',
      width: '64px',
      numeric: true,
      render: (r) => <KeywordCount captured={r.size} expected={r.expected} />,
    },
    { key: 'demand', title: 'Demand', width: '54px', numeric: true, render: (r) => number(r.demand) },
    { key: 'season', title: 'By month', width: '96px', render: (r) => <SeasonCell season={r.season} /> },
    {
      key: 'meanDifficulty',
      title: 'Diff.',
      width: '34px',
      numeric: true,
      render: (r) => decimal(r.meanDifficulty, 0),
    },
    {
      key: 'intent',
      title: 'Intent',
      width: '82px',
      render: (r) => r.intent ?? <span className="quiet">not known</span>,
    },
    { key: 'cohesion', title: 'Cohesion', width: '56px', numeric: true, render: (r) => decimal(r.cohesion, 2) },
    {
      key: 'weakMembers',
      title: 'Weak',
      width: '38px',
      numeric: true,
      render: (r) => (r.weakMembers > 0 ? number(r.weakMembers) : <span className="quiet">0</span>),
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '50px',
      numeric: true,
      render: (r) => (r.atStake >= 0.5 ? number(r.atStake) : <span className="quiet">0</span>),
    },
    {
      key: 'topicName',
      title: 'Topic',
      width: 'minmax(40px, 0.9fr)',
      render: (r) => r.topicName && <span title={r.topicName}>{r.topicName}</span>,
    },
    {
      key: 'pageUrl',
      title: 'Page',
      width: 'minmax(50px, 1.2fr)',
      render: (r) =>
        r.pageUrl ? <span title={r.pageUrl}>{shortUrl(r.pageUrl, host)}</span> : <span className="quiet">no page</span>,
    },
  ];
  const selected = list.text('id');
  const grouping = project?.grouping;
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Clusters</h1>
            <ViewSwitch list={list} />
            <span className="second cut">
              {grouping &&
                `first ${grouping.depth} results, at least ${grouping.minOverlap} shared, ${ruleNames[grouping.rule]} rule`}
            </span>
            <span className="gap" />
            <Button href={exportUrl('/api/clusters.csv', query)}>Export CSV</Button>
            {waiting > 0 && <Button onClick={() => setPane('newKeywords')}>{counted(waiting, 'new keyword')}</Button>}
            {drift && drift.apart.length + drift.together.length > 0 && (
              <Button onClick={() => setPane('drift')}>
                {number(drift.apart.length + drift.together.length)} drifted
              </Button>
            )}
            <Button type="primary" onClick={() => setPane('regroup')}>
              {project?.groupedAt ? 'Regroup' : 'Group keywords'}
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Bound
              label="Least demand"
              any="any demand"
              value={query.MinDemand}
              says={(v) => `demand from ${number(v)}`}
              onChange={(demand) => list.set({ demand })}
            />
            with
            <Choice
              label="Mark"
              any="any mark"
              value={query.Mark}
              options={marks.map((value) => ({ value, says: value }))}
              onChange={(mark) => list.set({ mark })}
            />
            <span className="comma">,</span>
            <Bound
              label="Fewest keywords"
              any="any size"
              value={query.MinSize}
              says={(v) => `${number(v)} keywords or more`}
              onChange={(size) => list.set({ size })}
            />
            and
            <Choice
              label="Intent"
              any="any intent"
              value={query.Intent}
              options={intents}
              onChange={(intent) => list.set({ intent })}
            />
            <Choice
              label="Trend"
              any="any trend"
              value={query.Trend}
              options={trendOptions}
              onChange={(trend) => list.set({ trend })}
            />
            <Choice
              label="Season"
              any="any season"
              value={list.text('peak')}
              options={peakOptions}
              onChange={(peak) => list.set({ peak })}
            />
            {topicId !== undefined && (
              <>
                in the topic
                <button className="chip set" title="Show all topics" onClick={() => list.set({ inTopic: undefined })}>
                  {topic?.name ?? '…'} ✕
                </button>
              </>
            )}
          </div>
          <DataTable
            name="clusters"
            query={query}
            read={(Offset, Limit) =>
              answer(api.GET('/api/clusters', { params: { query: { ...query, Offset, Limit } } }))
            }
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => {
              setPane(undefined);
              setRow(r);
              list.set({ id: r.id });
            }}
            onKey={(key, at) => {
              if (key === 'g') setPane('regroup');
              else if (key === 'n') setPane('newKeywords');
              else if (key === 'Enter' && at) void navigate(`/page-map?id=${at.id}`);
              else return false;
              return true;
            }}
            onDrop={(at, data) => {
              const keywordIds = keywordsOf(data);
              if (keywordIds.length > 0) move.mutate({ toClusterId: at.id, keywordIds });
            }}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No cluster fits">Remove a condition above, or search for something else.</NotYet>
              ) : (
                <NotYet title="Not grouped yet">
                  <p>Once keywords have result lists, they are grouped by how many results they share.</p>
                  <Button type="primary" onClick={() => setPane('regroup')}>
                    Group keywords
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        pane === 'regroup' && project ? (
          <RegroupPane project={project} close={() => setPane(undefined)} />
        ) : pane === 'drift' ? (
          <DriftPane regroup={() => setPane('regroup')} close={() => setPane(undefined)} />
        ) : pane === 'newKeywords' ? (
          <NewKeywordsPane close={() => setPane(undefined)} />
        ) : selected ? (
          <ClusterPane key={selected} id={Number(selected)} host={host} />
        ) : (
          <>
            <h2>Select a cluster</h2>
            <p>The results its keywords share appear here, with their positions.</p>
          </>
        )
      }
      tally={
        <Tally
          tally={tally}
          noun="cluster"
          keywords
          difficulty
          selected={row && selected ? `1, demand ${number(row.demand)}` : undefined}
        >
          {!row && <StagesTally brief />}
          <PlotLegend />
        </Tally>
      }
    />
  );
}
