import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { mappingEvidence } from '../api/evidence';
import { useProject } from '../api/hooks';
import { focusList, useKeyHelp } from '../app/keys';
import { AboutList } from '../pieces/AboutList';
import { DataTable } from '../pieces/DataTable';
import { number } from '../pieces/format';
import { GoButton } from '../pieces/GoButton';
import { ListScreen } from '../pieces/ListScreen';
import { PlotLegend } from '../pieces/PlotMark';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { isFiltered, useListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { ClearPane } from './ClearPane';
import { MappingPane, type Wish } from './MappingPane';
import { pageMapColumns } from './pageMapColumns';
import { PageMapSentence } from './PageMapSentence';
import { Progress } from './Progress';
import { pageMapNames, pageMapQuery, useAssignment, useClearLeft } from './usePageMap';
import { WhichPane } from './WhichPane';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'a', does: 'accept the suggested page, and go on' },
  { keys: '1 to 8', does: 'choose that candidate, and go on' },
  { keys: 'd', does: 'decline: no page is wanted' },
  { keys: 'o', does: 'choose any other page' },
  { keys: 'n', does: 'plan a new page' },
  { keys: 'x', does: 'unassign the page' },
];

const panes = ['clear'] as const;
const wishes: Record<string, Wish> = { n: 'new', d: 'decline', o: 'other' };

/** The page map: each cluster gets one page. */
export function PageMapScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [wish, setWish] = useState<Wish>();
  const { shown, open, close } = usePane(list, panes);
  const clearLeft = useClearLeft();
  const { assign, clear, choose } = useAssignment(host);
  useKeyHelp(help);
  const query = pageMapQuery(list);
  const selected = list.text('id');
  const phrase = list.text('phrase');
  const onKey = (key: string, row: Schema['ClusterRow'] | undefined, next: () => void) => {
    if (!row || String(row.id) !== selected) return false;
    if (key === 'a' && row.suggestedPageId !== null) {
      assign.mutate({ cluster: row.id, page: row.suggestedPageId, version: row.version });
      next();
    } else if (wishes[key]) setWish(wishes[key]);
    else if (key === 'x' && (row.pageId !== null || row.declined))
      clear.mutate({ cluster: row.id, version: row.version });
    else if (/^[1-8]$/.test(key)) {
      choose.mutate({ cluster: row.id, place: Number(key) });
      next();
    } else return false;
    return true;
  };
  return (
    <ListScreen
      title="Page map"
      about="each cluster gets exactly one page"
      actions={clearLeft > 0 && <Button onClick={() => open('clear')}>Look at {number(clearLeft)} clear</Button>}
      sentence={
        <>
          <Progress />
          <PageMapSentence list={list} query={query} />
        </>
      }
      pane={
        phrase ? (
          <WhichPane phrase={phrase} host={host} close={() => list.set({ phrase: undefined })} />
        ) : shown === 'clear' ? (
          <ClearPane host={host} close={close} />
        ) : selected ? (
          <MappingPane
            key={selected}
            clusterId={Number(selected)}
            host={host}
            wish={wish}
            setWish={setWish}
            assign={(page, version) =>
              assign.mutate({ cluster: Number(selected), page, version }, { onSuccess: focusList })
            }
            clear={(version) => clear.mutate({ cluster: Number(selected), version })}
          />
        ) : (
          <AboutList of="page map" list={list} names={pageMapNames}>
            <p className={ui.second}>Move with the arrow keys, accept a suggestion with a.</p>
          </AboutList>
        )
      }
      tally={
        <Tally tally={tally} noun="cluster" keywords>
          <PlotLegend />
        </Tally>
      }
    >
      <DataTable
        name="page map"
        query={query}
        read={(range) => answer(api.GET('/api/clusters', { params: { query: { ...query, ...range } } }))}
        columns={pageMapColumns(host)}
        list={list}
        idOf={(r) => r.id}
        selected={selected}
        onSelect={(r) => {
          setWish(undefined);
          list.set({ phrase: undefined, id: r.id, pane: undefined });
        }}
        onKey={onKey}
        onTally={setTally}
        evidenceOf={(r) => mappingEvidence(r.id)}
        empty={
          isFiltered(query) ? (
            <NotYet title="No cluster fits">Remove a condition above, or search for something else.</NotYet>
          ) : (
            <NotYet title="No clusters yet">
              <p>Clusters get their pages here. Group the keywords first.</p>
              <GoButton to="/clusters?pane=regroup">Group keywords</GoButton>
            </NotYet>
          )
        }
      />
    </ListScreen>
  );
}
