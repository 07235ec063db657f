import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { clusterEvidence } from '../api/evidence';
import { useChange, useProject } from '../api/hooks';
import { nameOf, words } from '../api/words';
import { useKeyHelp } from '../app/keys';
import { AboutList } from '../pieces/AboutList';
import { DataTable } from '../pieces/DataTable';
import { keywordsOf } from '../pieces/drag';
import { counted, number } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { PlotLegend } from '../pieces/PlotMark';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { exportUrl, isFiltered, useListState, type ListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { StagesTally } from '../results/StagedPart';
import { TopicsView } from '../topics/TopicsView';
import { clusterColumns } from './clusterColumns';
import { ClusterPane } from './ClusterPane';
import { ClustersSentence } from './ClustersSentence';
import { DriftPane, driftedIds, useDrift } from './DriftPane';
import { NewKeywordsPane, useNewKeywords } from './NewKeywordsPane';
import { RegroupPane } from './RegroupPane';
import { clusterNames, clustersQuery } from './useClusters';
import { ViewSwitch } from './ViewSwitch';

const help = [
  { keys: 'g', does: 'regroup' },
  { keys: 'n', does: 'keywords without a cluster' },
  { keys: 'm', does: 'move the ticked members to another cluster' },
  { keys: 's', does: 'split the ticked members off' },
  { keys: 'Enter', does: 'open the selected cluster on the page map' },
];

const panes = ['regroup', 'newKeywords', 'drift'] as const;

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
  const [row, setRow] = useState<Schema['ClusterRow']>();
  const { shown, open, close } = usePane(list, panes);
  const drift = useDrift().data;
  const drifts = drift ? drift.apart.length + drift.together.length : 0;
  const newKeywords = useNewKeywords().data;
  const waiting = newKeywords ? newKeywords.placed + newKeywords.left : 0;
  const move = useChange(
    ({ toClusterId, keywordIds }: { toClusterId: number; keywordIds: number[] }) =>
      answer(api.POST('/api/clusters/move', { body: { toClusterId, keywordIds } })),
    (done) => done.warning ?? 'Moved.',
  );
  useKeyHelp(help);
  const query = clustersQuery(list);
  const selected = list.text('id');
  const grouping = project?.grouping;
  return (
    <ListScreen
      title="Clusters"
      views={<ViewSwitch list={list} />}
      about={
        grouping &&
        `first ${grouping.depth} results, at least ${grouping.minOverlap} shared, ${nameOf(words.linkingRules, grouping.rule)} rule`
      }
      actions={
        <>
          <Button href={exportUrl('/api/clusters.csv', query)}>Export CSV</Button>
          {waiting > 0 && <Button onClick={() => open('newKeywords')}>{counted(waiting, 'new keyword')}</Button>}
          {drifts > 0 && <Button onClick={() => open('drift')}>{number(drifts)} drifted</Button>}
          <Button type="primary" onClick={() => open('regroup')}>
            {project?.groupedAt ? 'Regroup' : 'Group keywords'}
          </Button>
        </>
      }
      sentence={<ClustersSentence list={list} query={query} />}
      pane={
        shown === 'regroup' && project ? (
          <RegroupPane project={project} close={close} />
        ) : shown === 'drift' ? (
          <DriftPane regroup={() => open('regroup')} close={close} />
        ) : shown === 'newKeywords' ? (
          <NewKeywordsPane close={close} />
        ) : selected ? (
          <ClusterPane key={selected} id={Number(selected)} host={host} />
        ) : (
          <AboutList of="clusters" list={list} names={clusterNames} />
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
    >
      <DataTable
        name="clusters"
        query={query}
        read={(range) => answer(api.GET('/api/clusters', { params: { query: { ...query, ...range } } }))}
        columns={clusterColumns(host, driftedIds(drift))}
        list={list}
        idOf={(r) => r.id}
        selected={selected}
        onSelect={(r) => {
          setRow(r);
          list.set({ id: r.id, pane: undefined });
        }}
        onKey={(key, at) => {
          if (key === 'g') open('regroup');
          else if (key === 'n') open('newKeywords');
          else if (key === 'Enter' && at) void navigate(`/page-map?id=${at.id}`);
          else return false;
          return true;
        }}
        onDrop={(at, data) => {
          const keywordIds = keywordsOf(data);
          if (keywordIds.length > 0) move.mutate({ toClusterId: at.id, keywordIds });
        }}
        onTally={setTally}
        evidenceOf={(r) => clusterEvidence(r.id)}
        empty={
          isFiltered(query) ? (
            <NotYet title="No cluster fits">Remove a condition above, or search for something else.</NotYet>
          ) : (
            <NotYet title="Not grouped yet">
              <p>Once keywords have result lists, they are grouped by how many results they share.</p>
              <Button type="primary" onClick={() => open('regroup')}>
                Group keywords
              </Button>
            </NotYet>
          )
        }
      />
    </ListScreen>
  );
}
