import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { Choice } from '../pieces/FilterSentence';
import type { ListState } from '../pieces/useListState';
import { inSentence, words } from '../api/words';
import type { StepQuery } from './useSteps';
import { useTopicNames } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

/** Which steps are shown, as a sentence. */
export function StepsSentence({ list, query }: { list: ListState; query: StepQuery }) {
  const owners = useQuery({ queryKey: keyOf('owners'), queryFn: () => answer(api.GET('/api/plan/owners')) });
  const topics = useTopicNames();
  return (
    <div className={ui.says}>
      Showing{' '}
      <Choice
        label="Kind"
        any="every kind of step"
        value={query.Kind}
        options={inSentence(words.stepKinds)}
        onChange={(kind) => list.set({ kind })}
      />
      that is
      <Choice
        label="Status"
        any="not live"
        value={list.text('status')}
        options={[...inSentence(words.stepStatuses), { value: 'any', says: 'in any status' }]}
        onChange={(status) => list.set({ status })}
      />
      <Choice
        label="Owner"
        any="of anybody"
        value={list.text('owner')}
        options={[
          { value: '-', says: 'of nobody yet' },
          ...(owners.data ?? []).map((name) => ({ value: name, says: `of ${name}` })),
        ]}
        onChange={(owner) => list.set({ owner })}
      />
      in
      <Choice
        label="Topic"
        any="any topic"
        value={list.text('topic')}
        options={topics.map((t) => ({ value: String(t.id), says: t.name }))}
        onChange={(topic) => list.set({ topic })}
      />
    </div>
  );
}
