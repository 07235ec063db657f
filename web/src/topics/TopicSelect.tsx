import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** All topics for a choice, those of most demand first. */
export const useTopicNames = () =>
  useQuery({
    queryKey: keyOf('topics', 'names'),
    queryFn: () => answer(api.GET('/api/topics', { params: { query: { Limit: 500 } } })),
  }).data?.rows ?? [];

/** A topic found by typing part of its name. */
export function TopicSelect({
  label,
  placeholder,
  value = null,
  name,
  not,
  size,
  id,
  onChange,
}: {
  label: string;
  placeholder: string;
  /** The chosen topic; null where there is none. */
  value?: number | null;
  /** What the chosen topic is called. */
  name?: string | null;
  /** One that is not offered. */
  not?: number | null;
  size?: 'small';
  /** Of the field in a form. */
  id?: string;
  onChange?: (id: number | null) => void;
}) {
  const [search, setSearch] = useState('');
  const found = useQuery({
    queryKey: keyOf('topics', 'named', search),
    queryFn: () => answer(api.GET('/api/topics', { params: { query: { Search: search, Limit: 30 } } })),
  });
  const options = (found.data?.rows ?? [])
    .filter((t) => t.id !== not)
    .map((t) => ({ value: t.id, label: `${t.name} (${number(t.clusters)})` }));
  return (
    <Select
      showSearch={{ filterOption: false, onSearch: setSearch }}
      {...(id !== undefined && { id })}
      size={size}
      aria-label={label}
      placeholder={placeholder}
      className={size === 'small' ? ui.atLeast : ui.full}
      value={value ?? undefined}
      allowClear={value !== null}
      onChange={(id?: number) => onChange?.(id ?? null)}
      loading={found.isFetching}
      notFoundContent="No topic has that in its name"
      options={
        value !== null && name && !options.some((o) => o.value === value)
          ? [{ value, label: name }, ...options]
          : options
      }
    />
  );
}
