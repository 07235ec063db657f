import { inSentence, words } from '../api/words';
import { Bound, Choice } from '../pieces/FilterSentence';
import { number } from '../pieces/format';
import { marks } from '../pieces/PlotMark';
import type { ListState } from '../pieces/useListState';
import type { PageMapQuery } from './usePageMap';
import ui from '../pieces/ui.module.css';

/** Which clusters are shown, as a sentence. */
export function PageMapSentence({ list, query }: { list: ListState; query: PageMapQuery }) {
  return (
    <div className={ui.says}>
      Showing{' '}
      <Choice
        label="Decided"
        any="decided or not"
        value={list.text('decided')}
        options={[
          { value: 'no', says: 'clusters to decide' },
          { value: 'yes', says: 'decided clusters' },
        ]}
        onChange={(value) => list.set({ decided: value })}
      />
      with
      <Choice
        label="Verdict"
        any="any verdict"
        value={query.Verdict ?? undefined}
        options={inSentence(words.verdicts)}
        onChange={(verdict) => list.set({ verdict })}
      />
      <span className={ui.comma}>,</span>
      <Bound
        label="Least demand"
        any="any demand"
        value={query.MinDemand}
        says={(v) => `demand from ${number(v)}`}
        onChange={(demand) => list.set({ demand })}
      />
      and
      <Choice
        label="Mark"
        any="any mark"
        value={query.Mark}
        options={marks.map((value) => ({ value, says: value }))}
        onChange={(mark) => list.set({ mark })}
      />
    </div>
  );
}
