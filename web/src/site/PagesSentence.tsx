import { Choice } from '../pieces/FilterSentence';
import type { ListState } from '../pieces/useListState';
import { PageConditions } from './PageConditions';
import ui from '../pieces/ui.module.css';

/** Which pages are shown, as a sentence. */
export function PagesSentence({ list }: { list: ListState }) {
  return (
    <div className={ui.says}>
      Showing{' '}
      <Choice
        label="State"
        any="all pages"
        value={list.text('kind')}
        options={[
          { value: 'existing', says: 'existing pages' },
          { value: 'planned', says: 'planned pages' },
        ]}
        onChange={(kind) => list.set({ kind })}
      />
      <Choice
        label="Cluster"
        any="with or without a cluster"
        value={list.text('cluster')}
        options={[
          { value: 'yes', says: 'with a cluster' },
          { value: 'no', says: 'without a cluster' },
        ]}
        onChange={(cluster) => list.set({ cluster })}
      />
      and
      <Choice
        label="Results"
        any="seen or not"
        value={list.text('seen')}
        options={[
          { value: 'yes', says: 'seen in results' },
          { value: 'no', says: 'not seen in results' },
        ]}
        onChange={(seen) => list.set({ seen })}
      />
      <span className={ui.comma}>,</span>
      <PageConditions list={list} />
    </div>
  );
}
