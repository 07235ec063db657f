import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { resultListEvidence } from '../api/evidence';
import { inSentence, words } from '../api/words';
import { useKeyHelp } from '../app/keys';
import { ImportHistory } from '../imports/ImportHistory';
import { ImportPane } from '../imports/ImportPane';
import { queryOf, selectionOf, useSieves } from '../keywords/filter';
import { DataTable } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { number } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState, type ListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { usePicks } from '../pieces/usePicks';
import { CaptureHistory, CapturePane } from './CapturePane';
import { NoResultLists } from './NoResultLists';
import { resultColumns } from './resultColumns';
import { ResultListPane } from './ResultListPane';
import { SideBySide } from './SideBySide';
import { StagedPart, StagesTally } from './StagedPart';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'c', does: 'capture results of what is picked, or in view' },
  { keys: 'i', does: 'import result lists' },
  { keys: 'h', does: 'show captures and imports so far' },
  { keys: 'Space', does: 'pick a row; two picked are compared' },
];

const panes = ['import', 'capture'] as const;

/** Result lists: which keywords have one, capturing more, and what came of it. */
export function ResultsScreen() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  const { shown, open, close } = usePane(list, panes);
  const picks = usePicks(list, Number);
  useKeyHelp(help);
  const query = { ...queryOf(list), Capture: list.text('show') as Schema['KeywordRow']['capture'] | undefined };
  const chosen = selectionOf(list, picks.ids);
  const selection =
    picks.ids.size > 0 ? chosen : { ...chosen, filter: { ...chosen.filter!, capture: query.Capture ?? null } };
  const selected = list.numeric('id');
  const [one, two] = [...picks.ids];
  const soFar = () => list.set({ id: undefined, pane: undefined });
  return (
    <ListScreen
      title="Results"
      about="what a search for each keyword returned"
      actions={
        <>
          <Button
            onClick={() => {
              picks.clear();
              soFar();
            }}
          >
            So far
          </Button>
          <ExportMenu query={query} />
          <Button onClick={() => open('import')}>Import result lists</Button>
          <Button type="primary" onClick={() => open('capture')}>
            Capture results
          </Button>
        </>
      }
      sentence={<ResultsSentence list={list} />}
      pickedIds={picks.ids}
      pane={
        shown === 'import' ? (
          <ImportPane kind="results" close={close} />
        ) : shown === 'capture' ? (
          <CapturePane selection={selection} picked={picks.ids.size} close={close} />
        ) : picks.ids.size === 2 ? (
          <SideBySide a={one!} b={two!} />
        ) : selected !== undefined ? (
          <ResultListPane keywordId={selected} />
        ) : (
          <>
            <StagedPart captureRest={() => list.set({ show: 'expected', id: undefined, pane: 'capture' })} />
            <h2>Captures so far</h2>
            <CaptureHistory />
            <hr />
            <h2>Imports so far</h2>
            <ImportHistory />
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="keyword" captured selected={picks.ids.size > 0 && <b>{number(picks.ids.size)}</b>}>
          <StagesTally />
          {picks.ids.size === 1 && <span className={ui.quiet}>pick a second one to compare their results</span>}
        </Tally>
      }
    >
      <DataTable
        name="result lists"
        query={query}
        read={(range) => answer(api.GET('/api/keywords', { params: { query: { ...query, ...range } } }))}
        columns={resultColumns}
        list={list}
        idOf={(r) => r.id}
        selected={list.text('id')}
        onSelect={(r) => list.set({ id: r.id, pane: undefined })}
        onKey={(key) => {
          if (key === 'i') open('import');
          else if (key === 'c') open('capture');
          else if (key === 'h') soFar();
          else return false;
          return true;
        }}
        onTally={setTally}
        picks={picks}
        evidenceOf={(r) => resultListEvidence(r.id)}
        empty={<NoResultLists list={list} importFile={() => open('import')} />}
      />
    </ListScreen>
  );
}

/** Which keywords are shown, as a sentence. */
function ResultsSentence({ list }: { list: ListState }) {
  const { lists } = useSieves();
  const show = list.text('show');
  return (
    <div className={ui.says}>
      Showing{' '}
      <Choice
        label="State"
        any="all keywords"
        value={show}
        options={inSentence(words.captureStates).map((o) => ({ ...o, says: `keywords ${o.says}` }))}
        onChange={(next) => list.set({ show: next })}
      />
      in
      <Choice
        label="List"
        any="any list or none"
        value={list.text('listId')}
        options={lists.map((l) => ({ value: String(l.id), says: `“${l.name}”` }))}
        onChange={(next) => list.set({ listId: next })}
      />
    </div>
  );
}

function ExportMenu({ query }: { query: Record<string, string | number | boolean | null | undefined> }) {
  const exported = { ...query, Sort: undefined, Descending: undefined, Search: undefined, search: query.Search };
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          { key: 'csv', label: <a href={exportUrl('/api/results.csv', exported)}>as CSV</a> },
          { key: 'json', label: <a href={exportUrl('/api/results.json', exported)}>as JSON, with questions</a> },
        ],
      }}
    >
      <Button>Export</Button>
    </Dropdown>
  );
}
