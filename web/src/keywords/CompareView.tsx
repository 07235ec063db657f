import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Select, Segmented } from 'antd';
import { useEffect, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, decimal, number, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { exportUrl, type ListState } from '../pieces/useListState';
import { useSieves } from './filter';
import ui from '../pieces/ui.module.css';
import tableStyles from '../pieces/table.module.css';

const pageSize = 200;

/** Keywords where chosen rivals rank and the own site does not, or far below; and which of their pages rank for most. */
export function CompareView({
  list,
  onTally,
}: {
  list: ListState;
  onTally: (tally: Schema['ListTally'] | undefined) => void;
}) {
  const { lists } = useSieves();
  const hosts = useQuery({ queryKey: keyOf('compare-hosts'), queryFn: () => answer(api.GET('/api/compare/hosts')) });
  const rivals = list.text('rivals') ?? '';
  const depth = list.numeric('depth') ?? 10;
  const by = list.text('by') ?? 'keywords';
  const search = list.text('search');
  const [shown, setShown] = useState(pageSize);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [listId, setListId] = useState<number | null>(null);
  const gaps = useQuery({
    queryKey: keyOf('compare', rivals, depth, search, shown),
    enabled: rivals !== '' && by === 'keywords',
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(
        api.GET('/api/compare', {
          params: { query: { rivals, depth, search, offset: 0, limit: Math.min(500, shown) } },
        }),
      ),
  });
  const pages = useQuery({
    queryKey: keyOf('compare-pages', rivals, depth),
    enabled: rivals !== '' && by === 'pages',
    queryFn: () => answer(api.GET('/api/compare/pages', { params: { query: { rivals, depth } } })),
  });
  const add = useChange(
    () =>
      answer(
        api.POST('/api/compare/add', {
          body: { rivals, depth, search: search ?? null, normalForms: picked.size > 0 ? [...picked] : null, listId },
        }),
      ),
    (result) => {
      setPicked(new Set());
      return `${counted(result.count, 'keyword')} taken in, with their source.`;
    },
  );
  const readRankings = useChange((host: string) =>
    answer(
      api.POST('/api/keywords/gather', {
        body: {
          from: 'rankings',
          seeds: [host],
          containing: true,
          related: false,
          alphabet: false,
          questions: false,
          selection: null,
          add: false,
          listId: null,
        },
      }),
    ),
  );
  const total = gaps.data?.total;
  const demand = gaps.data?.demand ?? 0;
  useEffect(
    () =>
      onTally(
        total === undefined
          ? undefined
          : { rows: total, keywords: total, demand, meanDifficulty: null, atStake: 0, captured: 0 },
      ),
    [total, demand, onTally],
  );
  if (hosts.isError) return <Failed error={hosts.error} retry={() => void hosts.refetch()} />;
  if (!hosts.data) return <Reading />;
  const own = hosts.data.find((h) => h.isOwn);
  const chosen = rivals === '' ? [] : rivals.split(',');
  const unread = [...(own ? [own.host] : []), ...chosen].filter(
    (host) => !hosts.data.find((h) => h.host === host)?.rankingsReadAt,
  );
  return (
    <>
      <div className={ui.says}>
        Where
        <Select
          mode="tags"
          size="small"
          aria-label="Rivals"
          placeholder="choose rivals, or write hosts"
          className={ui.popped}
          value={chosen}
          options={hosts.data
            .filter((h) => !h.isOwn)
            .map((h) => ({
              value: h.host,
              label: `${h.host} (seen for ${number(h.seen)}${h.ranked > 0 ? `, ranks for ${number(h.ranked)}` : ''})`,
            }))}
          optionLabelProp="value"
          onChange={(next: string[]) => list.set({ rivals: next.join(',') || undefined })}
        />
        are in the first
        <Segmented
          size="small"
          options={[10, 20]}
          value={depth}
          onChange={(next) => list.set({ depth: next === 10 ? undefined : next })}
        />
        and we do not, or at least ten places behind; by
        <Segmented
          size="small"
          options={[
            { value: 'keywords', label: 'keywords' },
            { value: 'pages', label: 'their pages' },
          ]}
          value={by}
          onChange={(next) => list.set({ by: next === 'keywords' ? undefined : next })}
        />
      </div>
      {unread.length > 0 && chosen.length > 0 && (
        <div className={ui.actions}>
          <span>
            Only captured results are compared for {unread.slice(0, 3).join(', ')}. For the rest, read rankings of
          </span>
          {unread.slice(0, 4).map((host) => (
            <button
              key={host}
              className={ui.chip}
              disabled={readRankings.isPending}
              onClick={() => readRankings.mutate(host)}
            >
              {host}
            </button>
          ))}
        </div>
      )}
      {chosen.length === 0 ? (
        <NotYet title="Which rivals?">
          Choose one or several above. They are compared by captured results, and by their rankings where those were
          read.
        </NotYet>
      ) : by === 'pages' ? (
        <div className={tableStyles.grid} tabIndex={0} data-list role="region" aria-label="pages of rivals">
          <table className={`${ui.facts} ${ui.wide}`}>
            <thead>
              <tr>
                <th>Page</th>
                <th className={ui.num}>Keywords</th>
                <th className={ui.num}>Clicks a month, est.</th>
              </tr>
            </thead>
            <tbody>
              {pages.data?.map((p) => (
                <tr key={p.url}>
                  <td className={ui.url}>{shortUrl(p.url, undefined)}</td>
                  <td className={ui.num}>{number(p.keywords)}</td>
                  <td className={ui.num}>{number(p.clicks)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : gaps.data && gaps.data.rows.length === 0 ? (
        <NotYet title="No gap">
          They have no known keyword where we are absent or far behind. Read their rankings, or capture more results.
        </NotYet>
      ) : (
        <>
          <div className={ui.actions}>
            <span>
              {picked.size > 0 ? (
                <>
                  <b>{number(picked.size)}</b> picked:
                </>
              ) : (
                <>
                  All <b>{number(total)}</b>, <b>{number(gaps.data?.newKeywords)}</b> of them new to us:
                </>
              )}
            </span>
            <Select
              size="small"
              allowClear
              placeholder="into no list"
              aria-label="Into the list"
              className={ui.medium}
              value={listId ?? undefined}
              options={lists.map((l) => ({ value: l.id, label: `into ${l.name}` }))}
              onChange={(id?: number) => setListId(id ?? null)}
            />
            <Button size="small" type="primary" loading={add.isPending} onClick={() => add.mutate(undefined)}>
              Take in
            </Button>
            <span className={ui.gap} />
            <a href={exportUrl('/api/compare.csv', { rivals, depth, search })}>Export CSV</a>
          </div>
          <div className={tableStyles.grid} tabIndex={0} data-list role="region" aria-label="gaps">
            <table className={`${ui.facts} ${ui.wide}`}>
              <thead>
                <tr>
                  <th />
                  <th>Keyword</th>
                  <th className={ui.num}>Volume, est.</th>
                  <th className={ui.num}>Difficulty</th>
                  <th className={ui.num}>We stand at</th>
                  <th>They stand at</th>
                </tr>
              </thead>
              <tbody>
                {gaps.data?.rows.map((r) => (
                  <tr key={r.normalForm}>
                    <td className={ui.tiny}>
                      <input
                        type="checkbox"
                        aria-label={`Pick ${r.phrase}`}
                        checked={picked.has(r.normalForm)}
                        onChange={(event) => {
                          const next = new Set(picked);
                          next[event.target.checked ? 'add' : 'delete'](r.normalForm);
                          setPicked(next);
                        }}
                      />
                    </td>
                    <td>
                      {r.phrase} {r.keywordId === null && <span className={ui.quiet}>new</span>}
                    </td>
                    <td className={ui.num}>{number(r.volume)}</td>
                    <td className={ui.num}>{decimal(r.difficulty, 0)}</td>
                    <td className={ui.num}>{r.ownPosition ?? <span className={ui.quiet}>nowhere</span>}</td>
                    <td className={ui.second}>
                      {r.rivals.map((s) => (
                        <span key={s.host} title={s.url}>
                          <b>{s.position}</b> {s.host}{' '}
                        </span>
                      ))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            {total !== undefined && total > (gaps.data?.rows.length ?? 0) && shown < 500 && (
              <div className={`${ui.acts} ${ui.padded}`}>
                <Button onClick={() => setShown(500)}>Show more</Button>
                <span className={ui.quiet}>The export has all of them.</span>
              </div>
            )}
          </div>
        </>
      )}
    </>
  );
}
