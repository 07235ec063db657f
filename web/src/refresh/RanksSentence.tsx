import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { Choice } from '../pieces/FilterSentence';
import { day } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { inSentence, words } from '../api/words';
import { groups } from './useRanks';
import ui from '../pieces/ui.module.css';

/** Which ranks are shown, and which two days are compared, as a sentence. */
export function RanksSentence({ list }: { list: ListState }) {
  const ranks = useQuery({
    queryKey: keyOf('ranks', 'days'),
    queryFn: () => answer(api.GET('/api/ranks', { params: { query: { Limit: 0 } } })),
  }).data;
  const days = (ranks?.days ?? []).map((d) => ({ value: d, says: day(d) }));
  return (
    <div className={ui.says}>
      Positions of
      <Choice
        label="Gathered by"
        any="keywords"
        value={list.text('by') as 'cluster' | undefined}
        options={groups as unknown as { value: 'cluster'; says: string }[]}
        onChange={(by) => list.set({ by, rank: undefined })}
      />
      <Choice
        label="Move"
        any="with any move"
        value={list.text('move') as 'up' | undefined}
        options={inSentence(words.rankMoves)}
        onChange={(move) => list.set({ move })}
      />
      {list.numeric('cluster') !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ cluster: undefined })}>
          of one cluster ×
        </button>
      )}
      {list.numeric('page') !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ page: undefined })}>
          of one page ×
        </button>
      )}
      comparing
      <Choice
        label="First day"
        any={ranks?.from ? day(ranks.from) : 'the capture before'}
        value={list.text('from')}
        options={days}
        onChange={(from) => list.set({ from })}
      />
      with
      <Choice
        label="Second day"
        any={ranks?.to ? day(ranks.to) : 'the newest capture'}
        value={list.text('to')}
        options={days}
        onChange={(to) => list.set({ to })}
      />
    </div>
  );
}
