import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Radio } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, decimal, number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import type { KeywordQuery } from './filter';
import tableStyles from '../pieces/table.module.css';
import ui from '../pieces/ui.module.css';
import styles from './keywords.module.css';

const pageSize = 50;

/** Groups of close variants among the keywords in view, to be merged where the planner says so. */
export function VariantsView({ list, query }: { list: ListState; query: KeywordQuery }) {
  const [shown, setShown] = useState(pageSize);
  const groups = useQuery({
    queryKey: keyOf('variants', query, shown),
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(api.GET('/api/keywords/variants', { params: { query: { ...query, Offset: 0, Limit: shown } } })),
  });
  if (groups.isError) return <Failed error={groups.error} retry={() => void groups.refetch()} />;
  if (!groups.data) return <Reading />;
  if (groups.data.groups.length === 0)
    return (
      <NotYet title="No close variants">No two of these keywords have the same words in another form or order.</NotYet>
    );
  return (
    <div className={tableStyles.grid} tabIndex={0} data-list aria-label="close variants" role="region">
      <p className={`${ui.quiet} ${ui.padded}`}>
        {counted(groups.data.total, 'group')} with the same words in another form or order, most demand first. Word
        order and plurals can change the results, so nothing is merged by itself; volumes are not added.
      </p>
      {groups.data.groups.map((group) => (
        <Group key={group.key} group={group} list={list} />
      ))}
      {groups.data.total > shown && (
        <div className={`${ui.acts} ${ui.padded}`}>
          <Button onClick={() => setShown(shown + pageSize)}>Show more</Button>
        </div>
      )}
    </div>
  );
}

function Group({ group, list }: { group: Schema['VariantGroup']; list: ListState }) {
  const [keep, setKeep] = useState(group.keywords[0]!.id);
  const merge = useChange(
    () =>
      answer(
        api.POST('/api/keywords/merge', {
          body: { keepId: keep, ids: group.keywords.map((k) => k.id).filter((id) => id !== keep) },
        }),
      ),
    () => 'Merged.',
  );
  return (
    <div className={styles.variants}>
      <table className={ui.facts}>
        <tbody>
          {group.keywords.map((k) => (
            <tr key={k.id}>
              <td className={ui.tiny}>
                <Radio checked={k.id === keep} aria-label={`Keep ${k.phrase}`} onChange={() => setKeep(k.id)} />
              </td>
              <td>
                <button className={ui.chip} onClick={() => list.set({ id: k.id })}>
                  {k.phrase}
                </button>
              </td>
              <td className={`${ui.num} ${ui.narrow}`}>{number(k.volume)}</td>
              <td className={`${ui.num} ${ui.tiny}`}>{decimal(k.difficulty, 0)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="small" loading={merge.isPending} onClick={() => merge.mutate(undefined)}>
        Merge into “{group.keywords.find((k) => k.id === keep)?.phrase}”
      </Button>
    </div>
  );
}
