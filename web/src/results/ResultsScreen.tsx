import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useKeyHelp } from '../app/keys';
import { ImportHistory, ImportPane } from '../imports/ImportPane';
import { queryOf, selectionOf, useSieves } from '../keywords/filter';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { day, number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { CaptureHistory, CapturePane } from './CapturePane';
import { ComparedLists } from './ComparedLists';
import { ResultListPane } from './ResultListPane';
import { StagedPart, StagesTally } from './StagedPart';

type Row = Schema['KeywordRow'];

const help = [
  { keys: 'c', does: 'capture results of what is picked, or in view' },
  { keys: 'i', does: 'import result lists' },
  { keys: 'h', does: 'show captures and imports so far' },
  { keys: 'Space', does: 'pick a row; two picked are compared' },
];

const columns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(200px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '86px', numeric: true, render: (r) => number(r.volume) },
  {
    key: 'capturedOn',
    title: 'Captured on',
    width: '136px',
    numeric: true,
    render: (r) => (r.capturedOn ? day(r.capturedOn) : <span className="quiet">–</span>),
  },
  {
    key: 'capture',
    title: 'State',
    width: '126px',
    render: (r) =>
      r.capture === 'captured' ? (
        r.captureNote ? (
          <span title={r.captureNote}>captured, then failed</span>
        ) : (
          'captured'
        )
      ) : r.capture === 'empty' ? (
        'came back empty'
      ) : r.capture === 'failed' ? (
        <span className="clay" title={r.captureNote ?? ''}>
          capture failed
        </span>
      ) : r.capture === 'expected' ? (
        <span className="second">expected</span>
      ) : (
        <span className="quiet">not asked for yet</span>
      ),
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(130px, 2fr)',
    render: (r) => r.clusterName ?? <span className="quiet">not grouped</span>,
  },
];

/** Result lists: which keywords have one, capturing more, and what came of it. */
export function ResultsScreen() {
  const list = useListState();
  const { lists } = useSieves();
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [pane, setPane] = useState<'import' | 'capture' | undefined>();
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  useKeyHelp(help);
  const show = list.text('show');
  const query = { ...queryOf(list), Capture: show as Row['capture'] | undefined };
  const picks = selectionOf(list, picked);
  const selection =
    picked.size > 0 ? picks : { ...picks, filter: { ...picks.filter!, capture: query.Capture ?? null } };
  const selected = list.text('id');
  const two = [...picked];
  const exportQuery = { ...query, Sort: undefined, Descending: undefined, Search: undefined, search: query.Search };
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Results</h1>
            <span className="second cut">what a search for each keyword returned</span>
            <span className="gap" />
            <Button
              onClick={() => {
                setPane(undefined);
                setPicked(new Set());
                list.set({ id: undefined });
              }}
            >
              So far
            </Button>
            <Dropdown
              trigger={['click']}
              menu={{
                items: [
                  { key: 'csv', label: <a href={exportUrl('/api/results.csv', exportQuery)}>as CSV</a> },
                  {
                    key: 'json',
                    label: <a href={exportUrl('/api/results.json', exportQuery)}>as JSON, with questions</a>,
                  },
                ],
              }}
            >
              <Button>Export</Button>
            </Dropdown>
            <Button onClick={() => setPane('import')}>Import result lists</Button>
            <Button type="primary" onClick={() => setPane('capture')}>
              Capture results
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="State"
              any="all keywords"
              value={show}
              options={[
                { value: 'captured', says: 'captured keywords' },
                { value: 'none', says: 'keywords not asked for yet' },
                { value: 'expected', says: 'keywords that are expected' },
                { value: 'failed', says: 'keywords whose capture failed' },
                { value: 'empty', says: 'keywords that came back empty' },
              ]}
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
          <DataTable
            name="result lists"
            query={query}
            read={(Offset, Limit) =>
              answer(api.GET('/api/keywords', { params: { query: { ...query, Offset, Limit } } }))
            }
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => {
              setPane(undefined);
              list.set({ id: r.id });
            }}
            onKey={(key) => {
              if (key === 'i') setPane('import');
              else if (key === 'c') setPane('capture');
              else if (key === 'h') {
                setPane(undefined);
                list.set({ id: undefined });
              } else return false;
              return true;
            }}
            onTally={setTally}
            picks={{ ids: picked, set: setPicked }}
            empty={
              query.Search || list.text('listId') ? (
                <NotYet title="No keyword fits">Search for something else, or show all keywords.</NotYet>
              ) : show === 'failed' ? (
                <NotYet title="No capture failed">Every capture succeeded.</NotYet>
              ) : show === 'empty' ? (
                <NotYet title="None came back empty">Every search that was captured returned something.</NotYet>
              ) : show === 'none' ? (
                <NotYet title="Every keyword was asked for">There is nothing left to capture.</NotYet>
              ) : show === 'expected' ? (
                <NotYet title="No keyword is expected">
                  Capture in stages, and keywords whose cluster is certain without a result list are marked as expected.
                </NotYet>
              ) : show === 'captured' ? (
                <NotYet title="No result lists yet">
                  <p>Capture results from the search service, or import them.</p>
                  <Button type="primary" onClick={() => list.set({ show: undefined })}>
                    Show all keywords
                  </Button>
                </NotYet>
              ) : (
                <NotYet title="No keywords yet">
                  <p>
                    Results belong to keywords. Bring keywords first, or import result lists, which bring their keywords
                    along.
                  </p>
                  <Button type="primary" onClick={() => setPane('import')}>
                    Import result lists
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        pane === 'import' ? (
          <ImportPane kind="results" close={() => setPane(undefined)} />
        ) : pane === 'capture' ? (
          <CapturePane selection={selection} picked={picked.size} close={() => setPane(undefined)} />
        ) : two.length === 2 ? (
          <SideBySide a={two[0]!} b={two[1]!} />
        ) : selected ? (
          <ResultListPane keywordId={Number(selected)} />
        ) : (
          <>
            <StagedPart
              captureRest={() => {
                list.set({ show: 'expected', id: undefined });
                setPane('capture');
              }}
            />
            <h2>Captures so far</h2>
            <CaptureHistory />
            <hr />
            <h2>Imports so far</h2>
            <ImportHistory />
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="keyword" captured selected={picked.size > 0 && <b>{number(picked.size)}</b>}>
          <StagesTally />
          {picked.size === 1 && <span className="quiet">pick a second one to compare their results</span>}
        </Tally>
      }
    />
  );
}

function SideBySide({ a, b }: { a: number; b: number }) {
  const view = useQuery({
    queryKey: ['side-by-side', a, b],
    queryFn: () => answer(api.GET('/api/results/side-by-side', { params: { query: { a, b } } })),
  });
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  return (
    <>
      <h2>Two keywords side by side</h2>
      <p>
        1st: <b>{view.data.beforeLabel}</b>
        <br />
        2nd: <b>{view.data.afterLabel}</b>
      </p>
      <ComparedLists view={view.data} />
    </>
  );
}
