import { Dropdown, Input, InputNumber, Popover } from 'antd';
import { useState } from 'react';
import ui from './ui.module.css';

/** One underlined part of a filter sentence: a choice among words. */
export function Choice<T extends string>({
  label,
  value,
  any,
  options,
  onChange,
}: {
  label: string;
  value: T | undefined;
  any: string;
  options: readonly { value: T; says: string }[];
  onChange: (value: T | undefined) => void;
}) {
  const says = options.find((o) => o.value === value)?.says ?? any;
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        selectable: true,
        selectedKeys: [value ?? ''],
        items: [{ key: '', label: any }, ...options.map((o) => ({ key: o.value, label: o.says }))],
        onClick: ({ key }) => onChange(key === '' ? undefined : (key as T)),
      }}
    >
      <button className={value === undefined ? ui.chip : `${ui.chip} ${ui.set}`} aria-label={`${label}: ${says}`}>
        {says}
      </button>
    </Dropdown>
  );
}

/** One underlined part of a filter sentence: a least or greatest number. */
export function Bound({
  label,
  value,
  any,
  says,
  onChange,
}: {
  label: string;
  value: number | undefined;
  any: string;
  says: (value: number) => string;
  onChange: (value: number | undefined) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <InputNumber
          autoFocus
          min={0}
          aria-label={label}
          defaultValue={value}
          placeholder="any"
          onPressEnter={() => setOpen(false)}
          onChange={(next) => onChange(next ?? undefined)}
        />
      }
    >
      <button
        className={value === undefined ? ui.chip : `${ui.chip} ${ui.set}`}
        aria-label={`${label}: ${value === undefined ? any : says(value)}`}
      >
        {value === undefined ? any : says(value)}
      </button>
    </Popover>
  );
}

/** One underlined part of a filter sentence: words that are typed in. */
export function Typed({
  label,
  value,
  any,
  says,
  placeholder,
  onChange,
}: {
  label: string;
  value: string | undefined;
  any: string;
  says: (value: string) => string;
  placeholder: string;
  onChange: (value: string | undefined) => void;
}) {
  const [open, setOpen] = useState(false);
  const done = (text: string) => {
    setOpen(false);
    onChange(text.trim() || undefined);
  };
  const shown = value === undefined ? any : says(value);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      destroyOnHidden
      content={
        <Input
          autoFocus
          allowClear
          aria-label={label}
          defaultValue={value}
          placeholder={placeholder}
          maxLength={200}
          onPressEnter={(event) => done(event.currentTarget.value)}
          onBlur={(event) => done(event.currentTarget.value)}
        />
      }
    >
      <button className={value === undefined ? ui.chip : `${ui.chip} ${ui.set}`} aria-label={`${label}: ${shown}`}>
        {shown}
      </button>
    </Popover>
  );
}
