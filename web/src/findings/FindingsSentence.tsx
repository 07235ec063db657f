import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { Choice } from '../pieces/FilterSentence';
import type { ListState } from '../pieces/useListState';
import type { By } from './Bundles';
import { inSentence, words } from '../api/words';
import { useFindingKinds } from './says';
import type { FindingQuery } from './useFindings';
import ui from '../pieces/ui.module.css';

/** Which findings are shown, as a sentence. */
export function FindingsSentence({ list, query }: { list: ListState; query: FindingQuery }) {
  const kinds = useFindingKinds();
  const state = list.text('state');
  const by = list.text('by') as By | undefined;
  const assignees = useQuery({
    queryKey: keyOf('assignees'),
    queryFn: () => answer(api.GET('/api/findings/assignees')),
  });
  return (
    <div className={ui.says}>
      Showing{' '}
      <Choice
        label="Kind"
        any="findings"
        value={query.Kind}
        options={kinds.kinds}
        onChange={(kind) => list.set({ kind, sign: undefined, small: undefined })}
      />
      with
      <Choice
        label="Sign"
        any="any sign"
        value={query.Sign}
        options={kinds.signsOf(query.Kind)}
        onChange={(sign) => list.set({ sign })}
      />
      that are
      <Choice
        label="State"
        any="open or accepted"
        value={state}
        options={[...inSentence(words.findingStates), { value: 'any', says: 'in any state' }]}
        onChange={(value) => list.set({ state: value })}
      />
      <Choice
        label="Assignee"
        any="of anybody"
        value={list.text('assignee')}
        options={[
          { value: '-', says: 'of nobody' },
          ...(assignees.data ?? []).map((name) => ({ value: name, says: `of ${name}` })),
        ]}
        onChange={(assignee) => list.set({ assignee })}
      />
      <span className={ui.comma}>,</span>
      <Choice
        label="Gathered"
        any={query.Kind ? 'one by one' : 'by kind'}
        value={by ?? (query.Kind ? undefined : list.text('all'))}
        options={[
          ...(query.Kind ? [] : [{ value: 'all', says: 'one by one' }]),
          { value: 'page', says: 'by page' },
          { value: 'topic', says: 'by topic' },
        ]}
        onChange={(value) => list.set(value === 'all' ? { by: undefined, all: 'all' } : { by: value, all: undefined })}
      />
      {query.IsSmall !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ small: undefined })}>
          under one click a month ✕
        </button>
      )}
      {(query.PageId ?? query.TopicId) !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ page: undefined, topic: undefined })}>
          of one {query.PageId !== undefined ? 'page' : 'topic'} ✕
        </button>
      )}
    </div>
  );
}
