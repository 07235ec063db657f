import { Button, Input, Popconfirm, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange } from '../api/hooks';
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
  const [name, setName] = useState(row.name);
  const [notes, setNotes] = useState(row.notes);
  const [how, setHow] = useState<Schema['Combination']>('union');
  const [other, setOther] = useState<number>();
  const path = { id: row.id };
  const rename = useFormChange(
    () => answer(api.PUT('/api/lists/{id}', { params: { path }, body: { name, notes, selection: null } })),
    () => 'Saved.',
  );
  const remove = useChange(() => answer(api.DELETE('/api/lists/{id}', { params: { path } })));
  const combine = useChange(
    () => answer(api.POST('/api/lists/{id}/combine', { params: { path }, body: { otherId: other!, how } })),
    (result) => `${counted(result.count, 'keyword')} ${how === 'union' ? 'came in' : 'went out'}.`,
  );
  return (
    <div className={ui.form}>
      <Input size="small" aria-label="Name of the list" value={name} onChange={(e) => setName(e.target.value)} />
      <Input.TextArea
        rows={2}
        aria-label="Notes"
        placeholder="notes"
        value={notes}
        onChange={(e) => setNotes(e.target.value)}
      />
      {rename.error instanceof ApiError && <div className={ui.fault}>{rename.error.message}</div>}
      <div className={ui.acts}>
        <Button size="small" onClick={() => rename.mutate(undefined)}>
          Save
        </Button>
        <Popconfirm
          title={`Delete the list “${row.name}”?`}
          description="Its keywords stay."
          onConfirm={() => remove.mutate(undefined)}
        >
          <Button size="small">Delete the list</Button>
        </Popconfirm>
      </div>
      {others.length > 0 && (
        <div className={ui.line}>
          <Select size="small" aria-label="How" value={how} options={ways} onChange={setHow} className={ui.medium} />
          <Select
            size="small"
            aria-label="The other list"
            placeholder="list"
            value={other}
            options={others.map((o) => ({ value: o.id, label: o.name }))}
            onChange={setOther}
            className={ui.short}
          />
          <Button size="small" disabled={other === undefined} onClick={() => combine.mutate(undefined)}>
            Do
          </Button>
        </div>
      )}
    </div>
  );
}
