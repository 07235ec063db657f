import { useQuery } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { keywordEvidence } from '../api/evidence';
import { keyOf } from '../api/keys';
import { useKeyHelp } from '../app/keys';
import { DataTable } from '../pieces/DataTable';
import { number } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { usePicks } from '../pieces/usePicks';
import { CompareView } from './CompareView';
import { FilterBar } from './FilterBar';
import { filterKeys, queryOf, selectionOf } from './filter';
import { KeywordActions } from './KeywordActions';
import { keywordColumns } from './keywordColumns';
import { keywordPanes, KeywordsPane } from './KeywordsPane';
import { ModifiersView } from './ModifiersView';
import { VariantsView } from './VariantsView';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'b', does: 'bring keywords' },
  { keys: 'i', does: 'import a file' },
  { keys: 'l', does: 'lists' },
  { keys: 'c', does: 'capture results of what is picked, or in view' },
  { keys: 'Space', does: 'pick a row; with Shift all since the last' },
];

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
  const { shown, open } = usePane(list, keywordPanes);
  const picks = usePicks(list, Number);
  useKeyHelp(help);
  const view = list.text('view') ?? 'list';
  const query = queryOf(list);
  const isNarrowed = filterKeys.some((key) => list.text(key) !== undefined) || query.Search !== undefined;
  const selection = selectionOf(list, picks.ids);
  // The other views have no table that counts what is in view.
  const hasOwnTally = view === 'modifiers' || view === 'variants';
  const counted = useQuery({
    queryKey: keyOf('keywords-tally', query),
    enabled: hasOwnTally,
    queryFn: () => answer(api.GET('/api/keywords', { params: { query: { ...query, Limit: 0 } } })),
  });
  const onKey = (key: string) => {
    const to = ({ b: 'bring', i: 'import', l: 'lists', c: 'capture' } as const)[key];
    if (to) open(to);
    return to !== undefined;
  };
  return (
    <ListScreen
      title="Keywords"
      views={
        <Segmented
          options={views}
          value={view}
          onChange={(next) => list.set({ view: next === 'list' ? undefined : next, sort: undefined, down: undefined })}
        />
      }
      actions={
        <>
          <Button onClick={() => open('lists')}>Lists</Button>
          <Button onClick={() => open('rules')}>Rules</Button>
          <Button type="primary" onClick={() => open('bring')}>
            Bring keywords
          </Button>
        </>
      }
      sentence={view !== 'compare' && <FilterBar list={list} />}
      pickedIds={picks.ids}
      pane={<KeywordsPane shown={shown} open={open} list={list} selection={selection} picked={picks.ids.size} />}
      tally={
        <Tally
          tally={hasOwnTally ? counted.data?.tally : tally}
          noun="keyword"
          difficulty={view !== 'compare'}
          captured={view !== 'compare'}
          selected={picks.ids.size > 0 && <PickedKeywords ids={[...picks.ids]} />}
        />
      }
    >
      {view === 'compare' && <CompareView list={list} onTally={setTally} />}
      {view === 'modifiers' && <ModifiersView list={list} query={query} />}
      {view === 'variants' && <VariantsView list={list} query={query} />}
      {view === 'list' && (
        <>
          <KeywordActions
            selection={selection}
            picked={picks.ids.size}
            inView={tally?.rows}
            list={list}
            capture={() => open('capture')}
            clear={picks.clear}
            exportHref={exportUrl('/api/keywords.csv', query)}
          />
          <DataTable
            name="keywords"
            query={query}
            read={(range) => answer(api.GET('/api/keywords', { params: { query: { ...query, ...range } } }))}
            columns={keywordColumns}
            list={list}
            idOf={(r) => r.id}
            selected={list.text('id')}
            onSelect={(r) => list.set({ id: r.id, pane: undefined })}
            onKey={onKey}
            onTally={setTally}
            picks={picks}
            evidenceOf={(r) => keywordEvidence(r.id)}
            empty={<NoKeywords isNarrowed={isNarrowed} open={open} />}
          />
        </>
      )}
    </ListScreen>
  );
}

/** How many are picked, with their demand. */
function PickedKeywords({ ids }: { ids: number[] }) {
  const tally = useQuery({
    queryKey: keyOf('picked', ids),
    queryFn: () => answer(api.POST('/api/keywords/tally', { body: { ids, filter: null, search: null } })),
  });
  return (
    <>
      <b>{number(ids.length)}</b>
      {tally.data && (
        <>
          , demand <b>{number(tally.data.demand)}</b>
        </>
      )}
    </>
  );
}

function NoKeywords({ isNarrowed, open }: { isNarrowed: boolean; open: (pane: 'bring' | 'import') => void }) {
  if (isNarrowed)
    return <NotYet title="No keyword fits">Remove a condition above, or search for something else.</NotYet>;
  return (
    <NotYet title="No keywords yet">
      <p>Start with a seed phrase, a rival’s site, a file, or pasted keywords.</p>
      <div className={ui.acts}>
        <Button type="primary" onClick={() => open('bring')}>
          Bring keywords
        </Button>
        <Button onClick={() => open('import')}>Import keywords</Button>
      </div>
    </NotYet>
  );
}
