import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useKeyHelp } from '../app/keys';
import { ImportPane } from '../imports/ImportPane';
import { DataTable, type Column } from '../pieces/DataTable';
import { Bound, Choice } from '../pieces/FilterSentence';
import { decimal, number } from '../pieces/format';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { ResultListPane } from '../results/ResultListPane';
import { isFiltered } from '../site/SiteScreen';
import { intents, type Intent } from './intents';

type Row = Schema['KeywordRow'];

const help = [{ keys: 'i', does: 'import keywords' }];

const columns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(180px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '84px', numeric: true, render: (r) => number(r.volume) },
  { key: 'difficulty', title: 'Difficulty', width: '70px', numeric: true, render: (r) => decimal(r.difficulty, 0) },
  { key: 'titleMatches', title: 'Title matches', width: '92px', numeric: true, render: (r) => number(r.titleMatches) },
  { key: 'cpc', title: 'Cost per click', width: '92px', numeric: true, render: (r) => decimal(r.cpc, 2) },
  {
    key: 'intent',
    title: 'Intent',
    width: '96px',
    render: (r) => r.intent ?? <span className="quiet">not known</span>,
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(120px, 1.6fr)',
    render: (r) =>
      r.clusterId ? (
        <Link to={`/clusters?id=${r.clusterId}`}>{r.clusterName}</Link>
      ) : (
        <span className="quiet">{r.capturedOn ? 'not grouped' : 'not captured'}</span>
      ),
  },
];

/** The researched keywords. */
export function KeywordsScreen() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [importing, setImporting] = useState(false);
  useKeyHelp(help);
  const captured = list.text('captured');
  const query = {
    ...list.listing,
    MinVolume: list.numeric('volume'),
    MaxDifficulty: list.numeric('difficulty'),
    Intent: list.text('intent') as Intent | undefined,
    Captured: captured === undefined ? undefined : captured === 'yes',
  };
  const selected = list.text('id');
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Keywords</h1>
            <span className="second cut">volumes are estimates of the research source</span>
            <span className="gap" />
            <Button href={exportUrl('/api/keywords.csv', query)}>Export CSV</Button>
            <Button type="primary" onClick={() => setImporting(true)}>
              Import keywords
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Bound
              label="Least volume"
              any="any volume"
              value={query.MinVolume}
              says={(v) => `volume from ${number(v)}`}
              onChange={(volume) => list.set({ volume })}
            />
            with
            <Bound
              label="Greatest difficulty"
              any="any difficulty"
              value={query.MaxDifficulty}
              says={(v) => `difficulty up to ${v}`}
              onChange={(difficulty) => list.set({ difficulty })}
            />
            and
            <Choice
              label="Intent"
              any="any intent"
              value={query.Intent}
              options={intents}
              onChange={(intent) => list.set({ intent })}
            />
            <span className="comma">,</span>
            <Choice
              label="Captured"
              any="captured or not"
              value={captured}
              options={[
                { value: 'yes', says: 'captured' },
                { value: 'no', says: 'not captured' },
              ]}
              onChange={(value) => list.set({ captured: value })}
            />
          </div>
          <DataTable
            name="keywords"
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
            onKey={(key) => key === 'i' && (setImporting(true), true)}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No keyword fits">
                  Take a condition out of the sentence above, or search for something else.
                </NotYet>
              ) : (
                <NotYet title="No keywords yet">
                  <p>
                    Import what you have researched: a CSV or TSV file with a column named keyword, and volumes if you
                    have them.
                  </p>
                  <Button type="primary" onClick={() => setImporting(true)}>
                    Import keywords
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        importing ? (
          <ImportPane kind="keywords" close={() => setImporting(false)} />
        ) : selected ? (
          <ResultListPane keywordId={Number(selected)} />
        ) : (
          <>
            <h2>Select a keyword</h2>
            <p>What is known of it and its newest result list are shown here.</p>
          </>
        )
      }
      tally={<Tally tally={tally} noun="keyword" difficulty />}
    />
  );
}
