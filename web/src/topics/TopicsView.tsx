import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { topicEvidence } from '../api/evidence';
import { useChange } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { ViewSwitch } from '../clusters/ViewSwitch';
import { DataTable } from '../pieces/DataTable';
import { clustersOf } from '../pieces/drag';
import { ListScreen } from '../pieces/ListScreen';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { topicColumns } from './topicColumns';
import { TopicPane } from './TopicPane';
import { Resolutions, Themes } from './TopicsAbout';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'Enter', does: 'show the clusters of the selected topic one by one' },
  { keys: 'g', does: 'rebuild topics' },
];

/** Topics by demand, with how far each is covered. */
export function TopicsView() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  useKeyHelp(help);
  const gather = useChange(
    () => answer(api.POST('/api/topics/gather', {})),
    () => 'Topics rebuilt.',
  );
  const move = useChange(
    ({ topicId, clusterIds }: { topicId: number; clusterIds: number[] }) =>
      answer(api.POST('/api/topics/move', { body: { topicId, clusterIds } })),
    () => 'Moved to the topic.',
  );
  const selected = list.text('topic');
  return (
    <ListScreen
      title="Topics"
      views={<ViewSwitch list={list} />}
      actions={
        <>
          <Button href={exportUrl('/api/topics.csv', list.listing)}>Export CSV</Button>
          <Button loading={gather.isPending} onClick={() => gather.mutate(undefined)}>
            Rebuild topics
          </Button>
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
          <span className={ui.quiet}>filled covered, hatched planned, halved contested, empty uncovered</span>
        </Tally>
      }
    >
      <DataTable
        name="topics"
        query={list.listing}
        read={(range) => answer(api.GET('/api/topics', { params: { query: { ...list.listing, ...range } } }))}
        columns={topicColumns}
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
        evidenceOf={(r) => topicEvidence(r.id)}
        empty={
          list.listing.Search ? (
            <NotYet title="No topic fits">Search for something else.</NotYet>
          ) : (
            <NotYet title="No topics yet">
              <p>Topics are built from clusters with similar results or words. Group the keywords first.</p>
              <Button type="primary" onClick={() => gather.mutate(undefined)}>
                Build topics
              </Button>
            </NotYet>
          )
        }
      />
    </ListScreen>
  );
}
