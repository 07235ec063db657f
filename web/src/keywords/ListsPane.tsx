import { Button, Form, Input, Popconfirm, Select } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { ChangeForm } from '../pieces/ChangeForm';
import { counted, number, percent } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { useSieves } from './filter';
import ui from '../pieces/ui.module.css';

const ways: { value: Schema['Combination']; label: string }[] = [
  { value: 'union', label: 'add all of' },
  { value: 'subtract', label: 'remove all of' },
  { value: 'intersect', label: 'keep only what is in' },
];

/** Lists of keywords: open one, rename it, write notes, combine it with another. */
export function ListsPane({ list, close }: { list: ListState; close: () => void }) {
  const { lists } = useSieves();
  const [open, setOpen] = useState<number>();
  return (
    <>
      <h2>Lists</h2>
      {lists.length === 0 && <p>No lists yet. Filter the keywords, then make a list above the table.</p>}
      <table className={ui.facts}>
        <tbody>
          {lists.map((l) => (
            <tr key={l.id}>
              <td>
                <button className={ui.chip} onClick={() => list.set({ listId: l.id, view: undefined })}>
                  {l.name}
                </button>
                {l.notes && <div className={ui.quiet}>{l.notes}</div>}
                {open === l.id && <OneList row={l} others={lists.filter((o) => o.id !== l.id)} />}
              </td>
              <td className={ui.num}>
                {counted(l.keywords, 'keyword')}
                <div className={ui.quiet}>
                  demand {number(l.demand)}, {l.keywords > 0 ? percent(l.captured / l.keywords) : '–'} captured
                </div>
              </td>
              <td className={ui.num}>
                <button className={`${ui.chip} ${ui.quiet}`} onClick={() => setOpen(open === l.id ? undefined : l.id)}>
                  {open === l.id ? 'less' : 'change'}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className={ui.acts}>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}

function OneList({ row, others }: { row: Schema['ListRow']; others: Schema['ListRow'][] }) {
  const path = { id: row.id };
  const remove = useChange(() => answer(api.DELETE('/api/lists/{id}', { params: { path } })));
  return (
    <>
      <ChangeForm
        values={{ name: row.name, notes: row.notes }}
        change={(form) => answer(api.PUT('/api/lists/{id}', { params: { path }, body: { ...form, selection: null } }))}
        done={() => 'Saved.'}
        act="Save"
        acts={
          <Popconfirm
            title={`Delete the list “${row.name}”?`}
            description="Its keywords stay."
            onConfirm={() => remove.mutate(undefined)}
          >
            <Button size="small">Delete the list</Button>
          </Popconfirm>
        }
        isPlain
        isSmall
      >
        <Form.Item name="name">
          <Input aria-label="Name of the list" />
        </Form.Item>
        <Form.Item name="notes">
          <Input.TextArea rows={2} aria-label="Notes" placeholder="notes" />
        </Form.Item>
      </ChangeForm>
      {others.length > 0 && (
        <ChangeForm
          values={{ how: 'union' as Schema['Combination'], otherId: undefined as number | undefined }}
          change={({ how, otherId }) =>
            answer(api.POST('/api/lists/{id}/combine', { params: { path }, body: { how, otherId: otherId! } })).then(
              ({ count }) => ({ count, how }),
            )
          }
          done={({ count, how }) => `${counted(count, 'keyword')} ${how === 'union' ? 'added' : 'removed'}.`}
          act="Combine"
          isReady={(form) => form.otherId !== undefined}
          isPlain
          isLine
          isSmall
        >
          <Form.Item name="how">
            <Select aria-label="How" options={ways} className={ui.medium} />
          </Form.Item>
          <Form.Item name="otherId">
            <Select
              aria-label="The other list"
              placeholder="list"
              options={others.map((o) => ({ value: o.id, label: o.name }))}
              className={ui.short}
            />
          </Form.Item>
        </ChangeForm>
      )}
    </>
  );
}
