import { Button, Input, InputNumber, Popover, Select } from 'antd';
import { useState } from 'react';
import type { ListState } from '../pieces/useListState';
import ui from '../pieces/ui.module.css';

const ranges = [
  { keys: ['minWords', 'maxWords'], name: 'words', unit: 'words' },
  { keys: ['minAge', 'maxAge'], name: 'age', unit: 'days old' },
  { keys: ['minLinksIn', 'maxLinksIn'], name: 'links in', unit: 'links in' },
] as const;

/** Further conditions on pages, which scans made possible: said in plain words, set in one place. */
export function PageConditions({ list }: { list: ListState }) {
  const [open, setOpen] = useState(false);
  const says = [
    list.text('path') && `path ${list.text('path')}`,
    list.numeric('status') &&
      `status ${list.numeric('status')! < 10 ? `${list.text('status')}xx` : list.text('status')}`,
    list.text('indexable') && (list.text('indexable') === 'yes' ? 'indexable' : 'not indexable'),
    list.text('gone') && (list.text('gone') === 'yes' ? 'gone' : 'not gone'),
    ...ranges.map(({ keys: [least, most], unit }) => {
      const [from, to] = [list.numeric(least), list.numeric(most)];
      return from === undefined && to === undefined
        ? ''
        : `${from === undefined ? 'up to' : to === undefined ? 'from' : `${from} to`} ${to ?? from} ${unit}`;
    }),
  ].filter(Boolean);
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className={ui.editor} role="group" aria-label="Further conditions">
          <label>
            <span>path</span>
            <Input
              aria-label="Path"
              placeholder="/guides, or *kayak*"
              defaultValue={list.text('path')}
              className={ui.medium}
              onChange={(e) => list.set({ path: e.target.value || undefined })}
            />
          </label>
          <label>
            <span>status</span>
            <Select
              allowClear
              aria-label="Status"
              placeholder="any"
              className={ui.medium}
              value={list.text('status')}
              options={['2', '3', '4', '5'].map((value) => ({ value, label: `${value}00 to ${value}99` }))}
              onChange={(status?: string) => list.set({ status })}
            />
          </label>
          <label>
            <span>indexable</span>
            <Select
              allowClear
              aria-label="Indexable"
              placeholder="any"
              className={ui.medium}
              value={list.text('indexable')}
              options={[
                { value: 'yes', label: 'indexable' },
                { value: 'no', label: 'not indexable' },
              ]}
              onChange={(indexable?: string) => list.set({ indexable })}
            />
          </label>
          <label>
            <span>gone</span>
            <Select
              allowClear
              aria-label="Gone"
              placeholder="any"
              className={ui.medium}
              value={list.text('gone')}
              options={[
                { value: 'yes', label: 'gone' },
                { value: 'no', label: 'still there' },
              ]}
              onChange={(gone?: string) => list.set({ gone })}
            />
          </label>
          {ranges.map(({ keys, name }) => (
            <label key={name}>
              <span>{name}</span>
              <span className={ui.line}>
                {keys.map((key, i) => (
                  <InputNumber
                    key={key}
                    min={0}
                    precision={0}
                    className={ui.short}
                    aria-label={`${name} ${i === 0 ? 'from' : 'to'}`}
                    placeholder={i === 0 ? 'from' : 'to'}
                    value={list.numeric(key)}
                    onChange={(value) => list.set({ [key]: value ?? undefined })}
                  />
                ))}
              </span>
            </label>
          ))}
          <div className={ui.acts}>
            <Button size="small" type="primary" onClick={() => setOpen(false)}>
              Done
            </Button>
            <Button
              size="small"
              onClick={() =>
                list.set({
                  path: undefined,
                  status: undefined,
                  indexable: undefined,
                  gone: undefined,
                  ...Object.fromEntries(ranges.flatMap((r) => r.keys).map((key) => [key, undefined])),
                })
              }
            >
              Take out
            </Button>
          </div>
        </div>
      }
    >
      <button className={says.length > 0 ? `${ui.chip} ${ui.set}` : `${ui.chip} ${ui.quiet}`}>
        {says.length > 0 ? says.join(', ') : 'further conditions'}
      </button>
    </Popover>
  );
}
