import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { counted, day, number, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { useListState, type ListState } from '../pieces/useListState';
import { BriefPane } from './BriefPane';
import { BriefWork } from './BriefWork';
import { CheckScreen } from './CheckScreen';
import { CompareScreen } from './CompareScreen';
import { MakePane } from './MakePane';
import { formats, states, type State } from './says';

/** What writers get: the list of briefs, one of them, its ranking pages side by side, or a text next to what was asked for. */
export function BriefsScreen() {
  const list = useListState();
  const id = list.numeric('id');
  const page = list.numeric('page');
  if (page !== undefined)
    return <CheckScreen key={`page ${page}`} of={{ page }} back={() => list.set({ page: undefined })} />;
  return id === undefined ? <BriefList list={list} /> : <OneBrief key={id} id={id} list={list} />;
}

type Row = Schema['BriefRow'];

const none: ReadonlySet<number> = new Set();

function BriefList({ list }: { list: ListState }) {
  const host = useProject().data?.project.host;
  const [picked, setPicked] = useState<ReadonlySet<number>>(none);
  const state = list.text('state') as State | undefined;
  const writer = list.text('writer');
  const query = { ...list.listing, state, writer };
  const head = useQuery({
    queryKey: ['briefs', 'head', query],
    queryFn: () => answer(api.GET('/api/briefs', { params: { query: { ...query, Limit: 1 } } })),
  });
  const isNarrowed = Boolean(state ?? writer ?? list.text('search'));
  const which = picked.size > 0 ? [...picked].map((id) => `&id=${id}`).join('') : '';
  const columns: Column<Row>[] = [
    {
      key: 'primary',
      title: 'Keyword',
      width: 'minmax(150px, 2fr)',
      render: (r) => (
        <>
          {r.primary}
          {r.isGone && <span className="clay"> (its cluster is gone)</span>}
        </>
      ),
    },
    {
      key: 'url',
      title: 'Page',
      width: 'minmax(130px, 1.6fr)',
      render: (r) => (
        <span className="second" title={r.url}>
          {shortUrl(r.url, host)}
        </span>
      ),
    },
    { key: 'demand', title: 'Demand, est.', width: '88px', numeric: true, render: (r) => number(r.demand) },
    { key: 'words', title: 'Words', width: '58px', numeric: true, render: (r) => number(r.words) },
    { key: 'writer', title: 'Writer', width: '96px', render: (r) => <span title={r.writer}>{r.writer}</span> },
    { key: 'due', title: 'Due', width: '96px', render: (r) => (r.due ? day(r.due) : '') },
    { key: 'state', title: 'State', width: '70px', render: (r) => r.state },
  ];
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Briefs</h1>
            <span className="gap" />
            <Dropdown
              trigger={['click']}
              disabled={!head.data?.tally.rows}
              menu={{
                items: formats.map((f) => ({
                  key: f.value,
                  label: <a href={`/api/briefs.zip?format=${f.value}${which}`}>{f.label}</a>,
                })),
              }}
            >
              <Button>{picked.size > 0 ? `Export ${picked.size} as ZIP` : 'Export all as ZIP'}</Button>
            </Dropdown>
          </div>
          <div className="says">
            Showing briefs that are
            <Choice
              label="State"
              any="in any state"
              value={state}
              options={states}
              onChange={(next) => list.set({ state: next })}
            />
            by
            <Choice
              label="Writer"
              any="any writer"
              value={writer}
              options={(head.data?.writers ?? []).map((w) => ({ value: w, says: w }))}
              onChange={(next) => list.set({ writer: next })}
            />
          </div>
          <DataTable<Row>
            name="briefs"
            query={query}
            read={(Offset, Limit) => answer(api.GET('/api/briefs', { params: { query: { ...query, Offset, Limit } } }))}
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={list.text('at')}
            onSelect={(r) => list.set({ at: r.id })}
            onKey={(key, row) => {
              if (key !== 'Enter' || !row) return false;
              list.set({ id: row.id });
              return true;
            }}
            picks={{ ids: picked, set: setPicked }}
            onTally={() => undefined}
            empty={
              <NotYet title={isNarrowed ? 'No brief fits' : 'No briefs yet'}>
                {isNarrowed
                  ? 'Choose another state or writer, or search for something else.'
                  : 'Choose a cluster at the right. Its brief is made from the ranking pages, the keywords and the questions.'}
              </NotYet>
            }
          />
        </>
      }
      pane={<MakePane selected={list.numeric('at')} open={(id) => list.set({ id })} />}
      tally={
        head.data && (
          <>
            <span>
              <b>{number(head.data.tally.rows)}</b> {head.data.tally.rows === 1 ? 'brief' : 'briefs'},{' '}
              {number(head.data.sent)} with writers or further
            </span>
            <span>
              <b>{number(head.data.words)}</b> words
            </span>
            <span>
              demand <b>{number(head.data.tally.demand)}</b> a month, estimated
            </span>
          </>
        )
      }
    />
  );
}

function OneBrief({ id, list }: { id: number; list: ListState }) {
  const [section, setSection] = useState(0);
  const view = useQuery({
    queryKey: ['brief', id],
    queryFn: () => answer(api.GET('/api/briefs/{id}', { params: { path: { id } } })),
  });
  const data: Schema['BriefView'] | undefined = view.data;
  const shown = list.text('view');
  if (shown === 'check')
    return <CheckScreen of={{ brief: id }} view={data} back={() => list.set({ view: undefined })} />;
  if (shown === 'compare' && data) return <CompareScreen view={data} back={() => list.set({ view: undefined })} />;
  return (
    <Stage
      work={
        view.isError ? (
          <Failed error={view.error} retry={() => void view.refetch()} />
        ) : !data ? (
          <Reading />
        ) : (
          <BriefWork
            view={data}
            section={section}
            setSection={setSection}
            show={(what) => list.set({ view: what })}
            back={() => list.set({ id: undefined })}
          />
        )
      }
      pane={data ? <BriefPane view={data} section={section} show={(what) => list.set({ view: what })} /> : <Reading />}
      tally={
        data && (
          <>
            <span>
              <b>{data.brief.keywords.length}</b> keywords,{' '}
              <b>{data.brief.keywords.length - data.unserved.keywords.length}</b> served
            </span>
            <span>
              <b>{data.brief.terms.length}</b> terms, <b>{data.brief.terms.length - data.unserved.terms.length}</b>{' '}
              served
            </span>
            <span>
              <b>{data.brief.questions.length}</b> questions,{' '}
              <b>{data.brief.questions.length - data.unserved.questions.length}</b> served
            </span>
            <span className="gap" />
            proposed {day(data.row.updatedAt)}, {counted(data.row.changes, 'change')} by you
          </>
        )
      }
    />
  );
}
