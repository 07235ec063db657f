import { useQuery } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { number } from '../pieces/format';

/** Makes briefs of clusters, by what they are called. */
export function MakePane({ made }: { made: (id: number) => void }) {
  const [chosen, setChosen] = useState<number[]>([]);
  const [search, setSearch] = useState('');
  const clusters = useQuery({
    queryKey: ['clusters', 'to choose', search],
    queryFn: () => answer(api.GET('/api/clusters', { params: { query: { Search: search || undefined, Limit: 50 } } })),
  });
  const make = useChange(
    () => answer(api.POST('/api/briefs', { body: { clusterIds: chosen } })),
    (answered) => {
      setChosen([]);
      const only = answered.ids.length === 1 ? answered.ids[0] : undefined;
      if (only !== undefined) made(only);
      return `${number(answered.ids.length)} ${answered.ids.length === 1 ? 'brief' : 'briefs'} made. Undo takes it back.`;
    },
  );
  return (
    <div className="form">
      <h2>Make briefs</h2>
      <p>
        A brief is made from what is known of a cluster and its ranking pages, by rules. Where these were not read yet,
        the brief says so, and reading them is one click.
      </p>
      <label>
        <span>Clusters</span>
        <Select<number[]>
          aria-label="Clusters"
          mode="multiple"
          placeholder="search by keyword"
          value={chosen}
          showSearch={{ filterOption: false, onSearch: setSearch }}
          options={(clusters.data?.rows ?? []).map((c) => ({ value: c.id, label: `${c.name}, ${number(c.demand)}` }))}
          onChange={setChosen}
        />
      </label>
      <div className="acts">
        <Button
          type="primary"
          disabled={chosen.length === 0}
          loading={make.isPending}
          onClick={() => make.mutate(undefined)}
        >
          Make {chosen.length > 1 ? `${chosen.length} briefs` : 'the brief'}
        </Button>
      </div>
    </div>
  );
}
