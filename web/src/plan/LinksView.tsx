import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useEffect, useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { Choice } from '../pieces/FilterSentence';
import { counted, number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { MissingLink } from './MissingLink';
import styles from './plan.module.css';
import { useTopicNames } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

const atOnce = 100;

/** Links that pages of a topic lack, each with the passage and the words to link. */
export function LinksView({
  list,
  host,
  onTally,
}: {
  list: ListState;
  host: string | undefined;
  onTally: (tally: React.ReactNode) => void;
}) {
  const topic = list.numeric('topic');
  const [shown, setShown] = useState(atOnce);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const links = useQuery({
    queryKey: keyOf('missing links', topic, shown),
    queryFn: () =>
      answer(api.GET('/api/plan/links', { params: { query: { topicId: topic, offset: 0, limit: shown } } })),
    placeholderData: keepPreviousData,
  });
  const topics = useTopicNames();
  const add = useChange(
    (all: boolean) =>
      answer(
        api.POST('/api/plan/links', {
          body: {
            links: all
              ? null
              : [...picked].map((p) => ({ sourceId: Number(p.split(' ')[0]), targetId: Number(p.split(' ')[1]) })),
            topicId: topic ?? null,
            pageId: null,
          },
        }),
      ),
    (r) => {
      setPicked(new Set());
      return `${counted(r.steps, 'step')} with links.`;
    },
  );
  const data = links.data;
  useEffect(() => {
    onTally(
      data && (
        <>
          <span>
            <b>{number(data.count)}</b> missing links
          </span>
          {data.notRead > 0 && <span>{counted(data.notRead, 'page')} not read by a full scan</span>}
        </>
      ),
    );
  }, [data, onTally]);
  return (
    <>
      <div className={ui.says}>
        Links that are missing in{' '}
        <Choice
          label="Topic"
          any="all topics"
          value={list.text('topic')}
          options={topics.map((t) => ({ value: String(t.id), says: t.name }))}
          onChange={(next) => list.set({ topic: next })}
        />
        {picked.size > 0 ? (
          <Button size="small" type="primary" onClick={() => add.mutate(false)} loading={add.isPending}>
            Add {counted(picked.size, 'link')} to the plan
          </Button>
        ) : (
          <Button
            size="small"
            disabled={!data?.rows.some((r) => !r.hasStep)}
            onClick={() => add.mutate(true)}
            loading={add.isPending}
          >
            Add all to the plan
          </Button>
        )}
      </div>
      <div className={styles.links} data-list tabIndex={0} role="region" aria-label="Missing links">
        {links.isError ? (
          <Failed error={links.error} retry={() => void links.refetch()} />
        ) : !data ? (
          <Reading />
        ) : data.rows.length === 0 ? (
          <NotYet title="No link is missing">
            {data.notRead > 0
              ? `The links of ${counted(data.notRead, 'page')} were not read. A full scan of the site reads them.`
              : 'Pillars and their supporting pages link to each other, as far as pages are assigned.'}
          </NotYet>
        ) : (
          data.rows.map((l) => {
            const key = `${l.sourceId} ${l.targetId}`;
            return (
              <div key={key} className={styles.missing}>
                {!l.hasStep && (
                  <Checkbox
                    className={styles.pick}
                    aria-label={`Pick the link from ${l.sourceUrl} to ${l.targetUrl}`}
                    checked={picked.has(key)}
                    onChange={(event) => {
                      const next = new Set(picked);
                      next[event.target.checked ? 'add' : 'delete'](key);
                      setPicked(next);
                    }}
                  />
                )}
                <MissingLink link={l} host={host} />
              </div>
            );
          })
        )}
        {data && data.rows.length < data.count && data.rows.length < 500 && (
          <div className={styles.link}>
            <span />
            <Button onClick={() => setShown(500)} loading={links.isFetching}>
              Show more
            </Button>
          </div>
        )}
      </div>
    </>
  );
}
