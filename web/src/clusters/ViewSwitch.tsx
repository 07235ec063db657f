import type { ListState } from '../pieces/useListState';
import ui from '../pieces/ui.module.css';

/** Clusters one by one, or gathered into topics. */
export const ViewSwitch = ({ list }: { list: ListState }) => (
  <span className={ui.views} role="group" aria-label="View">
    {(['clusters', 'topics'] as const).map((view) => (
      <button
        key={view}
        aria-pressed={(list.text('view') ?? 'clusters') === view}
        onClick={() =>
          list.set({
            view: view === 'clusters' ? undefined : view,
            search: undefined,
            sort: undefined,
            down: undefined,
            inTopic: undefined,
          })
        }
      >
        {view === 'clusters' ? 'one by one' : 'by topic'}
      </button>
    ))}
  </span>
);
