import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { useKeyHelp } from '../app/keys';
import { ImportPane } from '../imports/ImportPane';
import { DataTable, type Column } from '../pieces/DataTable';
import { ExpectedMark } from '../pieces/Expected';
import { decimal, number } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { CapturePane } from '../results/CapturePane';
import { BringPane } from './BringPane';
import { CompareView } from './CompareView';
import { FilterBar } from './FilterBar';
import { filterKeys, queryOf, selectionOf } from './filter';
import { KeywordActions } from './KeywordActions';
import { KeywordPane } from './KeywordPane';
import { ListsPane } from './ListsPane';
import { ModifiersView } from './ModifiersView';
import { RulesPane } from './RulesPane';
import { VariantsView } from './VariantsView';

type Row = Schema['KeywordRow'];
export type KeywordsPane = 'bring' | 'import' | 'lists' | 'rules' | 'capture' | undefined;

const help = [
  { keys: 'b', does: 'bring keywords' },
  { keys: 'i', does: 'import a file' },
  { keys: 'l', does: 'lists' },
  { keys: 'c', does: 'capture results of what is picked, or in view' },
  { keys: 'Space', does: 'pick a row; with Shift all since the last' },
];

const columns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(150px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '72px', numeric: true, render: (r) => number(r.volume) },
  { key: 'season', title: 'By month', width: '98px', render: (r) => <SeasonCell season={r.season} /> },
  { key: 'difficulty', title: 'Difficulty', width: '58px', numeric: true, render: (r) => decimal(r.difficulty, 0) },
  { key: 'titleMatches', title: 'In titles', width: '52px', numeric: true, render: (r) => number(r.titleMatches) },
  {
    key: 'titleCompetition',
    title: '÷ volume',
    width: '54px',
    numeric: true,
    render: (r) => decimal(r.titleCompetition, 2),
  },
  { key: 'cpc', title: 'Cost/click', width: '64px', numeric: true, render: (r) => decimal(r.cpc, 2) },
  {
    key: 'intent',
    title: 'Intent',
    width: '88px',
    render: (r) =>
      r.intent ? (
        <span title={r.intentToldBy ? `guessed from “${r.intentToldBy}”` : 'as the source says'}>
          {r.intent}
          {r.intentToldBy && <span className="quiet"> *</span>}
        </span>
      ) : (
        <span className="quiet">not known</span>
      ),
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(96px, 1.4fr)',
    render: (r) =>
      r.clusterId ? (
        <>
          {r.capture === 'expected' && <ExpectedMark />}
          <Link to={`/clusters?id=${r.clusterId}`}>{r.clusterName}</Link>
        </>
      ) : (
        <span className="quiet">{captureSays[r.capture]}</span>
      ),
  },
];

const captureSays: Record<Row['capture'], string> = {
  captured: 'not grouped',
  none: 'not captured',
  expected: 'expected without results',
  empty: 'came back empty',
  failed: 'capture failed',
};

const views = [
  { value: 'list', label: 'Table' },
  { value: 'modifiers', label: 'Modifiers' },
  { value: 'variants', label: 'Close variants' },
  { value: 'compare', label: 'Compare sites' },
];

/** The researched keywords: bring them, sift them, put them into lists. */
export function KeywordsScreen() {
  const list = useListState();
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [pane, setPane] = useState<KeywordsPane>();
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  useKeyHelp(help);
  const view = list.text('view') ?? 'list';
  const query = queryOf(list);
  const selected = list.text('id');
  const isFiltered = filterKeys.some((key) => list.text(key) !== undefined) || query.Search !== undefined;
  const selection = selectionOf(list, picked);
  const ofPicked = useQuery({
    queryKey: ['picked', [...picked]],
    enabled: picked.size > 0,
    queryFn: () => answer(api.POST('/api/keywords/tally', { body: { ids: [...picked], filter: null, search: null } })),
  });
  // The other views have no table that counts what is in view.
  const counted = useQuery({
    queryKey: ['keywords-tally', query],
    enabled: view === 'modifiers' || view === 'variants',
    queryFn: () => answer(api.GET('/api/keywords', { params: { query: { ...query, Limit: 0 } } })),
  });
  const onKey = (key: string) => {
    const to = ({ b: 'bring', i: 'import', l: 'lists', c: 'capture' } as const)[key];
    if (to) setPane(to);
    return to !== undefined;
  };
  const empty = isFiltered ? (
    <NotYet title="No keyword fits">Remove a condition above, or search for something else.</NotYet>
  ) : (
    <NotYet title="No keywords yet">
      <p>Start with a seed phrase, a rival’s site, a file, or pasted keywords.</p>
      <div className="acts">
        <Button type="primary" onClick={() => setPane('bring')}>
          Bring keywords
        </Button>
        <Button onClick={() => setPane('import')}>Import keywords</Button>
      </div>
    </NotYet>
  );
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Keywords</h1>
            <Segmented
              options={views}
              value={view}
              onChange={(next) =>
                list.set({ view: next === 'list' ? undefined : next, sort: undefined, down: undefined })
              }
            />
            <span className="gap" />
            <Button onClick={() => setPane('lists')}>Lists</Button>
            <Button onClick={() => setPane('rules')}>Rules</Button>
            <Button type="primary" onClick={() => setPane('bring')}>
              Bring keywords
            </Button>
          </div>
          {view === 'compare' ? (
            <CompareView list={list} onTally={setTally} />
          ) : (
            <>
              <FilterBar list={list} />
              {view === 'modifiers' && <ModifiersView list={list} query={query} />}
              {view === 'variants' && <VariantsView list={list} query={query} />}
              {view === 'list' && (
                <>
                  <KeywordActions
                    selection={selection}
                    picked={picked.size}
                    inView={tally?.rows}
                    list={list}
                    capture={() => setPane('capture')}
                    clear={() => setPicked(new Set())}
                    exportHref={exportUrl('/api/keywords.csv', query)}
                  />
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
                      setPane(undefined);
                      list.set({ id: r.id });
                    }}
                    onKey={onKey}
                    onTally={setTally}
                    picks={{ ids: picked, set: setPicked }}
                    empty={empty}
                  />
                </>
              )}
            </>
          )}
        </>
      }
      pane={
        pane === 'import' ? (
          <ImportPane kind="keywords" close={() => setPane(undefined)} />
        ) : pane === 'bring' ? (
          <BringPane
            close={() => setPane(undefined)}
            list={list}
            selection={selection}
            importFile={() => setPane('import')}
          />
        ) : pane === 'lists' ? (
          <ListsPane list={list} close={() => setPane(undefined)} />
        ) : pane === 'rules' ? (
          <RulesPane close={() => setPane(undefined)} />
        ) : pane === 'capture' ? (
          <CapturePane selection={selection} picked={picked.size} close={() => setPane(undefined)} />
        ) : selected ? (
          <KeywordPane keywordId={Number(selected)} />
        ) : (
          <>
            <h2>Select a keyword</h2>
            <p>Its sources, close variants and newest results appear here.</p>
            <p>
              An asterisk means a rule guessed the intent from the phrase. A tilde means the keyword is expected in that
              cluster, not captured.
            </p>
          </>
        )
      }
      tally={
        <Tally
          tally={view === 'modifiers' || view === 'variants' ? counted.data?.tally : tally}
          noun="keyword"
          difficulty={view !== 'compare'}
          captured={view !== 'compare'}
          selected={
            picked.size > 0 && (
              <>
                <b>{number(picked.size)}</b>
                {ofPicked.data && (
                  <>
                    , demand <b>{number(ofPicked.data.demand)}</b>
                  </>
                )}
              </>
            )
          }
        />
      }
    />
  );
}
