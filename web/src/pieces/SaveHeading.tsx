import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import ui from './ui.module.css';

/** Saves a heading that was seen somewhere for the outlines of a topic: by a click, or with H where it has the focus. */
export function SaveHeading({ heading, of }: { heading: string; of: { topicId: number } | { clusterId: number } }) {
  const save = useChange(
    () =>
      'topicId' in of
        ? answer(api.POST('/api/topics/{id}/headings', { params: { path: { id: of.topicId } }, body: { heading } }))
        : answer(
            api.POST('/api/clusters/{id}/headings', { params: { path: { id: of.clusterId } }, body: { heading } }),
          ),
    () => 'Saved for the topic: it is offered in the outlines of its briefs.',
  );
  return (
    <button
      className={`${ui.chip} ${ui.quiet}`}
      title="Save it as a heading for the topic (H)"
      aria-label={`Save “${heading}” as a heading`}
      onClick={() => save.mutate(undefined)}
      onKeyDown={(event) => {
        if (event.key === 'h' && !event.ctrlKey && !event.metaKey) save.mutate(undefined);
      }}
    >
      save
    </button>
  );
}
