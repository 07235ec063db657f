import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown, Form, Input, InputNumber, Popover, Segmented } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import type { ListState } from '../pieces/useListState';
import { conditionsOf, filterKeys, keysOf, saysOf, useSieves, type Condition } from './filter';
import ui from '../pieces/ui.module.css';

/** The filter as a sentence: each condition in plain words, to be changed or taken out; more can be added, and the whole saved. */
export function FilterBar({ list }: { list: ListState }) {
  const { lists, sources } = useSieves();
  const conditions = conditionsOf(lists, sources);
  const [open, setOpen] = useState<string>();
  const shown = conditions.filter((c) => saysOf(c, list) !== undefined || c.name === open);
  const rest = conditions.filter((c) => !shown.includes(c) && (c.kind !== 'choice' || c.options.length > 0));
  const clear = (keys: string[]) => list.set(Object.fromEntries(keys.map((key) => [key, undefined])));
  return (
    <div className={ui.says}>
      Showing {shown.length === 0 && 'all keywords'}
      {shown.map((condition, i) => (
        <span key={condition.name}>
          <ConditionChip
            condition={condition}
            list={list}
            open={condition.name === open}
            // One that closes late does not close the next, which is open by then.
            setOpen={(next) => setOpen((now) => (next ? condition.name : now === condition.name ? undefined : now))}
            remove={() => {
              setOpen(undefined);
              clear(keysOf(condition));
            }}
          />
          {i < shown.length - 1 && ','}
        </span>
      ))}
      <Dropdown
        trigger={['click']}
        menu={{
          items: rest.map((c) => ({ key: c.name, label: c.name })),
          onClick: ({ key }) => {
            const only = conditions.find((c) => c.name === key);
            if (only?.kind === 'choice' && only.options.length === 1) list.set({ [only.key]: only.options[0]!.value });
            else setOpen(key);
          },
        }}
      >
        <button className={`${ui.chip} ${ui.quiet}`}>add a condition</button>
      </Dropdown>
      <SavedFilters list={list} isSet={shown.length > 0} />
      {shown.length > 0 && (
        <button className={`${ui.chip} ${ui.quiet}`} onClick={() => clear(filterKeys)}>
          show all
        </button>
      )}
    </div>
  );
}

function ConditionChip({
  condition,
  list,
  open,
  setOpen,
  remove,
}: {
  condition: Condition;
  list: ListState;
  open: boolean;
  setOpen: (open: boolean) => void;
  remove: () => void;
}) {
  const says = saysOf(condition, list);
  const shut = () => setOpen(false);
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className={ui.editor} role="group" aria-label={condition.name}>
          <ConditionEditor condition={condition} list={list} done={shut} />
          <div className={ui.acts}>
            <Button size="small" type="primary" onClick={shut}>
              Done
            </Button>
            <Button size="small" onClick={remove}>
              Take out
            </Button>
          </div>
        </div>
      }
    >
      <button className={`${ui.chip} ${ui.set}`} aria-label={`${condition.name}: ${says ?? 'any'}`}>
        {says ?? `any ${condition.name}`}
      </button>
    </Popover>
  );
}

function ConditionEditor({ condition, list, done }: { condition: Condition; list: ListState; done: () => void }) {
  if (condition.kind === 'range') {
    const [least, most] = condition.keys;
    return (
      <>
        {[
          [least, 'from'],
          [most, 'to'],
        ].map(([key, word], i) => (
          <label key={key}>
            <span>{word}</span>
            <InputNumber
              autoFocus={i === 0}
              min={0}
              step={condition.step ?? 1}
              aria-label={`${condition.name} ${word}`}
              placeholder="any"
              value={list.numeric(key!)}
              onPressEnter={done}
              onChange={(value) => list.set({ [key!]: value ?? undefined })}
            />
          </label>
        ))}
      </>
    );
  }
  if (condition.kind === 'words')
    return (
      <>
        <Input
          autoFocus
          aria-label={condition.name}
          placeholder="words or phrases, separated by commas"
          defaultValue={list.text(condition.key)}
          className={ui.long}
          onPressEnter={done}
          onChange={(event) => list.set({ [condition.key]: event.target.value || undefined })}
        />
        {condition.all && (
          <Segmented
            size="small"
            options={[
              { value: '', label: 'any of them' },
              { value: 'true', label: 'all of them' },
            ]}
            value={list.text(condition.all) ?? ''}
            onChange={(value) => list.set({ [condition.all!]: value || undefined })}
          />
        )}
        <div className={ui.quiet}>Whole words; “dry suit” is a phrase.</div>
      </>
    );
  return (
    <div className={ui.options}>
      {condition.options.map((option) => (
        <button
          key={option.value}
          className={list.text(condition.key) === option.value ? `${ui.chip} ${ui.set}` : ui.chip}
          onClick={() => {
            list.set({ [condition.key]: option.value });
            done();
          }}
        >
          {option.says}
        </button>
      ))}
    </div>
  );
}

/** Filters with a name: take one up, or give this one a name. */
function SavedFilters({ list, isSet }: { list: ListState; isSet: boolean }) {
  const saved = useQuery({ queryKey: keyOf('filters'), queryFn: () => answer(api.GET('/api/filters')) }).data ?? [];
  const [open, setOpen] = useState(false);
  const saveFilter = ({ name }: { name: string }) => {
    const kept = new URLSearchParams();
    for (const key of filterKeys) if (list.text(key) !== undefined) kept.set(key, list.text(key)!);
    return answer(api.PUT('/api/filters', { body: { name, query: kept.toString() } }));
  };
  const remove = useChange((id: number) => answer(api.DELETE('/api/filters/{id}', { params: { path: { id } } })));
  if (!isSet && saved.length === 0) return null;
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className={ui.editor}>
          {saved.map((filter) => (
            <div key={filter.id} className={ui.line}>
              <button
                className={ui.chip}
                onClick={() => {
                  const query = new URLSearchParams(filter.query);
                  list.set(Object.fromEntries(filterKeys.map((key) => [key, query.get(key) ?? undefined])));
                  setOpen(false);
                }}
              >
                {filter.name}
              </button>
              <button
                className={`${ui.chip} ${ui.quiet}`}
                aria-label={`Delete ${filter.name}`}
                onClick={() => remove.mutate(filter.id)}
              >
                delete
              </button>
            </div>
          ))}
          {isSet && (
            <ChangeForm
              values={{ name: '' }}
              change={saveFilter}
              done={() => {
                setOpen(false);
                return 'Saved.';
              }}
              act="Save"
              isReady={(form) => form.name.trim() !== ''}
              isPlain
              isLine
              isSmall
              clears={['name']}
            >
              <Form.Item name="name">
                <Input aria-label="Name of the filter" placeholder="name for this filter" />
              </Form.Item>
            </ChangeForm>
          )}
        </div>
      }
    >
      <button className={`${ui.chip} ${ui.quiet}`}>saved filters</button>
    </Popover>
  );
}
