import { Button, Dropdown } from 'antd';
import type { Schema } from '../api/client';
import { useQueryWork, type Item } from './useQueryWork';

const works: { work: Schema['QueryWork']; says: string; title: string }[] = [
  { work: 'mention', says: 'Mention', title: 'The page mentions it: a part of its refresh step' },
  { work: 'answer', says: 'Answer', title: 'The page answers it in a few sentences' },
  { work: 'section', says: 'Section', title: 'The page gets a section about it' },
  { work: 'title', says: 'New title', title: 'The page gets a title that wins more clicks' },
  { work: 'description', says: 'New description', title: 'The page gets a description that wins more clicks' },
];

/** What can be done with queries, on the spot. */
export function QueryActions({
  items,
  period,
  isIrrelevant,
  done = () => undefined,
}: {
  items: Item[];
  period: object;
  isIrrelevant?: boolean;
  done?: () => void;
}) {
  const { work, ignore, keywords } = useQueryWork(period, done);
  return (
    <>
      {works.map((w) => (
        <Button
          key={w.work}
          size="small"
          title={w.title}
          loading={work.isPending && work.variables.work === w.work}
          onClick={() => work.mutate({ work: w.work, items })}
        >
          {w.says}
        </Button>
      ))}
      <Button
        size="small"
        title="Into the keywords with its real counts, to be captured and grouped"
        loading={keywords.isPending}
        onClick={() => keywords.mutate(items)}
      >
        Own page
      </Button>
      {isIrrelevant ? (
        <Button size="small" onClick={() => ignore.mutate({ items, isIrrelevant: false, everywhere: false })}>
          Don’t ignore
        </Button>
      ) : (
        <Dropdown
          trigger={['click']}
          menu={{
            items: [
              { key: 'page', label: 'on this page' },
              { key: 'all', label: 'on all pages' },
            ],
            onClick: ({ key }) => ignore.mutate({ items, isIrrelevant: true, everywhere: key === 'all' }),
          }}
        >
          <Button size="small">Ignore</Button>
        </Dropdown>
      )}
    </>
  );
}
