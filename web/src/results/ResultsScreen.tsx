import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useKeyHelp } from '../app/keys';
import { ImportHistory, ImportPane } from '../imports/ImportPane';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { day, number } from '../pieces/format';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { useListState } from '../pieces/useListState';
import { ResultListPane } from './ResultListPane';

type Row = Schema['KeywordRow'];

const help = [
  { keys: 'i', does: 'import result lists' },
  { keys: 'h', does: 'show the imports so far' },
];

const columns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(200px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '90px', numeric: true, render: (r) => number(r.volume) },
  {
    key: 'capturedOn',
    title: 'Captured on',
    width: '140px',
    numeric: true,
    render: (r) => (r.capturedOn ? day(r.capturedOn) : <span className="quiet">not captured</span>),
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(140px, 2fr)',
    render: (r) => r.clusterName ?? <span className="quiet">not grouped</span>,
  },
];

/** Result lists: which keywords have one, and the imports that brought them. */
export function ResultsScreen() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [importing, setImporting] = useState(false);
  useKeyHelp(help);
  const show = list.text('captured') ?? 'yes';
  const query = { ...list.listing, Captured: show === 'all' ? undefined : show === 'yes' };
  const selected = list.text('id');
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
                setImporting(false);
                list.set({ id: undefined });
              }}
            >
              Imports so far
            </Button>
            <Button type="primary" onClick={() => setImporting(true)}>
              Import result lists
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="Captured"
              any="captured keywords"
              value={show === 'yes' ? undefined : show}
              options={[
                { value: 'no', says: 'keywords without a result list' },
                { value: 'all', says: 'all keywords' },
              ]}
              onChange={(captured) => list.set({ captured })}
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
              setImporting(false);
              list.set({ id: r.id });
            }}
            onKey={(key) => {
              if (key === 'i') setImporting(true);
              else if (key === 'h') list.set({ id: undefined });
              else return false;
              return true;
            }}
            onTally={setTally}
            empty={
              query.Search ? (
                <NotYet title="No keyword fits">Search for something else, or show all keywords.</NotYet>
              ) : show === 'no' ? (
                <NotYet title="Every keyword has its result list">There is nothing left to bring.</NotYet>
              ) : (
                <NotYet title="No result lists yet">
                  <p>
                    Import what searches returned: a CSV or TSV file with keyword, position and url, a row for each
                    result.
                  </p>
                  <Button type="primary" onClick={() => setImporting(true)}>
                    Import result lists
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        importing ? (
          <ImportPane kind="results" close={() => setImporting(false)} />
        ) : selected ? (
          <ResultListPane keywordId={Number(selected)} />
        ) : (
          <>
            <h2>Imports so far</h2>
            <ImportHistory />
          </>
        )
      }
      tally={<Tally tally={tally} noun="keyword" />}
    />
  );
}
