import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { Choice } from '../pieces/FilterSentence';
import { counted, day, number, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { useListState } from '../pieces/useListState';
import { BriefWork } from './BriefWork';
import styles from './briefs.module.css';
import { CheckPane } from './CheckPane';
import { MakePane } from './MakePane';
import { SectionPane } from './SectionPane';
import { states, type State } from './says';

/** What writers get: the list of briefs, or one of them with its outline. */
export function BriefsScreen() {
  const list = useListState();
  const id = list.numeric('id');
  return id === undefined ? <BriefList list={list} /> : <OneBrief key={id} id={id} list={list} />;
}

type ListState = ReturnType<typeof useListState>;

function BriefList({ list }: { list: ListState }) {
  const host = useProject().data?.project.host;
  const state = list.text('state') as State | undefined;
  const search = list.text('search');
  const briefs = useQuery({
    queryKey: ['briefs', state, search],
    queryFn: () =>
      answer(api.GET('/api/briefs', { params: { query: { ...(state && { state }), ...(search && { search }) } } })),
  });
  const rows = briefs.data ?? [];
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Briefs</h1>
            <span className="gap" />
            {rows.length > 0 && (
              <Dropdown
                trigger={['click']}
                menu={{
                  items: formats.map((f) => ({
                    key: f.value,
                    label: <a href={`/api/briefs.zip?format=${f.value}`}>{f.label}</a>,
                  })),
                }}
              >
                <Button>Export all as ZIP</Button>
              </Dropdown>
            )}
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
          </div>
          {briefs.isError ? (
            <Failed error={briefs.error} retry={() => void briefs.refetch()} />
          ) : !briefs.data ? (
            <Reading />
          ) : rows.length === 0 ? (
            <NotYet title={state || search ? 'No brief fits' : 'No briefs yet'}>
              {state || search
                ? 'Choose another state, or search for something else.'
                : 'Choose clusters at the right. Each gets a brief with titles, an outline, questions, terms and links, made from its ranking pages.'}
            </NotYet>
          ) : (
            <div className={styles.table} data-list>
              <table className="facts">
                <thead>
                  <tr>
                    <th>Keyword</th>
                    <th>Page</th>
                    <th className="num">Demand, est.</th>
                    <th className="num">Words</th>
                    <th>Writer</th>
                    <th>Due</th>
                    <th>State</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((r) => (
                    <tr key={r.id}>
                      <td>
                        <button className="link" onClick={() => list.set({ id: r.id })}>
                          {r.primary}
                        </button>
                        {r.isGone && <span className="clay"> (its cluster is gone)</span>}
                      </td>
                      <td className="second">{shortUrl(r.url, host)}</td>
                      <td className="num">{number(r.demand)}</td>
                      <td className="num">{number(r.words)}</td>
                      <td>{r.writer}</td>
                      <td>{r.due ? day(r.due) : ''}</td>
                      <td>{r.state}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
        </>
      }
      pane={<MakePane made={(id) => list.set({ id })} />}
      tally={
        <span>
          <b>{number(rows.length)}</b> {rows.length === 1 ? 'brief' : 'briefs'},{' '}
          {counted(rows.filter((r) => r.state !== 'draft' && r.state !== 'ready').length, 'brief')} with writers or
          further
        </span>
      }
    />
  );
}

const formats = [
  { value: 'docx', label: 'Documents (DOCX)' },
  { value: 'xlsx', label: 'Workbooks (XLSX)' },
  { value: 'html', label: 'Pages to print (HTML)' },
  { value: 'md', label: 'Markdown' },
  { value: 'json', label: 'JSON' },
];

function OneBrief({ id, list }: { id: number; list: ListState }) {
  const [section, setSection] = useState(0);
  const [isChecking, setChecking] = useState(false);
  const view = useQuery({
    queryKey: ['brief', id],
    queryFn: () => answer(api.GET('/api/briefs/{id}', { params: { path: { id } } })),
  });
  const data: Schema['BriefView'] | undefined = view.data;
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
            setSection={(next) => {
              setChecking(false);
              setSection(next);
            }}
            check={() => setChecking(true)}
            back={() => list.set({ id: undefined })}
            exports={formats}
          />
        )
      }
      pane={
        !data ? (
          <Reading />
        ) : isChecking ? (
          <CheckPane id={id} close={() => setChecking(false)} />
        ) : (
          <SectionPane view={data} section={section} />
        )
      }
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
              <b>{data.brief.questions.length}</b> questions
            </span>
            <span className="gap" />
            proposed {day(data.row.updatedAt)}, {counted(data.row.changes, 'change')} by you
          </>
        )
      }
    />
  );
}
