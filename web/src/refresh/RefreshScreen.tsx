import { Button, Dropdown } from 'antd';
import { Fragment, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useProject } from '../api/hooks';
import { ListScreen } from '../pieces/ListScreen';
import { exportUrl, useListState } from '../pieces/useListState';
import { ChangePane } from './ChangePane';
import { ChangesPane } from './ChangesPane';
import { ChangesSentence } from './ChangesSentence';
import { ChangesTable } from './ChangesTable';
import { changesQuery } from './useChanges';
import { RankPane, RanksPane } from './RankPane';
import { RanksSentence } from './RanksSentence';
import { RanksTable } from './RanksTable';
import { PagesTable } from './PagesTable';
import { QueriesTable } from './QueriesTable';
import { RefreshPagePane } from './RefreshPagePane';
import { RefreshPane } from './RefreshPane';
import { RefreshSentence } from './RefreshSentence';
import { StateLine } from './StateLine';
import { QueryPane } from './QueryPane';
import styles from './refresh.module.css';
import { ranksQuery } from './useRanks';
import { refreshQuery } from './useRefresh';
import ui from '../pieces/ui.module.css';

const views = [
  { value: 'pages', says: 'by page' },
  { value: 'queries', says: 'by query' },
  { value: 'changes', says: 'did it help?' },
  { value: 'ranks', says: 'positions' },
] as const;

/** What the site is found for, page by page and query by query. */
export function RefreshScreen() {
  const list = useListState();
  const [params] = useSearchParams();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<React.ReactNode>(null);
  const view = views.find((v) => v.value === list.text('view'))?.value ?? 'pages';
  const query = refreshQuery(list);
  const [selected, queryId] = [list.numeric('id'), list.numeric('query')];
  const addressOf = (to: string) => {
    const next = new URLSearchParams(params);
    for (const name of ['sort', 'down', 'day', 'rank', 'from', 'to']) next.delete(name);
    if (to === 'pages') next.delete('view');
    else next.set('view', to);
    return `/refresh?${next.toString()}`;
  };
  const file = (form: string) => (
    <a
      href={
        view === 'changes'
          ? exportUrl(`/api/changes.${form}`, changesQuery(list))
          : view === 'ranks'
            ? exportUrl(`/api/ranks.${form}`, ranksQuery(list))
            : exportUrl(`/api/refresh/${view}.${form}`, query)
      }
    >
      {form.toUpperCase()}
    </a>
  );
  return (
    <ListScreen
      title="Refresh"
      views={
        <nav className={`${styles.views} ${ui.cut}`} aria-label="Views of search performance">
          {views.map((v, i) => (
            <Fragment key={v.value}>
              {i > 0 && <span aria-hidden>·</span>}
              <Link to={addressOf(v.value)} aria-current={view === v.value ? 'page' : undefined}>
                {v.says}
              </Link>
            </Fragment>
          ))}
        </nav>
      }
      actions={
        <>
          <Button onClick={() => list.set({ id: undefined, query: undefined, day: undefined, rank: undefined })}>
            Overview
          </Button>
          <Dropdown
            trigger={['click']}
            menu={{ items: ['csv', 'xlsx'].map((form) => ({ key: form, label: file(form) })) }}
          >
            <Button type="primary">Export</Button>
          </Dropdown>
        </>
      }
      sentence={
        <>
          <StateLine />
          {view === 'changes' ? (
            <ChangesSentence list={list} />
          ) : view === 'ranks' ? (
            <RanksSentence list={list} />
          ) : (
            <RefreshSentence list={list} query={query} view={view} />
          )}
        </>
      }
      pane={
        view === 'ranks' ? (
          list.text('rank') ? (
            <RankPane key={list.text('rank')} id={list.text('rank')!} list={list} host={host} />
          ) : (
            <RanksPane />
          )
        ) : view === 'changes' ? (
          selected !== undefined && list.text('day') ? (
            <ChangePane key={`${selected}-${list.text('day')}`} pageId={selected} day={list.text('day')!} host={host} />
          ) : (
            <ChangesPane list={list} />
          )
        ) : selected !== undefined && view === 'queries' && queryId !== undefined ? (
          <QueryPane key={`${selected}-${queryId}`} pageId={selected} queryId={queryId} list={list} host={host} />
        ) : selected !== undefined ? (
          <RefreshPagePane key={selected} id={selected} list={list} host={host} />
        ) : (
          <RefreshPane host={host} list={list} />
        )
      }
      tally={tally ?? <span className={ui.quiet}>counting…</span>}
    >
      {view === 'changes' ? (
        <ChangesTable list={list} host={host} onTally={setTally} />
      ) : view === 'ranks' ? (
        <RanksTable list={list} host={host} onTally={setTally} />
      ) : view === 'queries' ? (
        <QueriesTable list={list} query={query} host={host} onTally={setTally} />
      ) : (
        <PagesTable list={list} query={query} host={host} onTally={setTally} />
      )}
    </ListScreen>
  );
}
