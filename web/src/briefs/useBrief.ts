import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { sectionsOf } from './says';

type View = Schema['BriefView'];

/** Changes of one brief. What the planner made of it is always sent as a whole. */
export function useBrief(view: View) {
  const { row, edits, version } = view;
  const change = useChange((body: Schema['ChangeBriefRequest']) =>
    answer(api.PUT('/api/briefs/{id}', { params: { path: { id: row.id } }, body: { ...body, version } })),
  );
  const edit = (more: Partial<Schema['BriefEdits']>) => change.mutate({ edits: { ...edits, ...more } });
  const sections = sectionsOf(view.brief);
  return { change, edit, sections, setSections: (outline: Schema['EditedSection'][]) => edit({ outline }) };
}

/** Saves headings for the topic of a brief, and forgets them. */
export function useHeadings(topicId: number | null | undefined) {
  const save = useChange(
    (heading: string) =>
      answer(api.POST('/api/topics/{id}/headings', { params: { path: { id: topicId! } }, body: { heading } })),
    () => 'Saved for the topic: it is offered in its outlines.',
  );
  const forget = useChange((heading: string) =>
    answer(api.DELETE('/api/topics/{id}/headings', { params: { path: { id: topicId! }, query: { heading } } })),
  );
  return { save, forget };
}
