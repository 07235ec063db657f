import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';

/** A topic found by typing part of its name. */
export function TopicSelect({
  not,
  label,
  onChoose,
}: {
  not: number | null;
  label: string;
  onChoose: (id: number) => void;
}) {
  const [search, setSearch] = useState('');
  const found = useQuery({
    queryKey: keyOf('topics', 'named', search),
    queryFn: () => answer(api.GET('/api/topics', { params: { query: { Search: search, Limit: 20 } } })),
  });
  return (
    <Select
      showSearch={{ filterOption: false, onSearch: setSearch }}
      size="small"
      aria-label={label}
      placeholder={label}
      style={{ minWidth: 170 }}
      value={null}
      onChange={(id: number | null) => id !== null && onChoose(id)}
      loading={found.isFetching}
      notFoundContent="No topic has that in its name"
      options={(found.data?.rows ?? [])
        .filter((t) => t.id !== not)
        .map((t) => ({ value: t.id, label: `${t.name} (${number(t.clusters)})` }))}
    />
  );
}
