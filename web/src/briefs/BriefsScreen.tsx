import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schema } from '../api/client';
import { briefEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { counted, day } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { useListState, type ListState } from '../pieces/useListState';
import { BriefList } from './BriefList';
import { BriefPane } from './BriefPane';
import { BriefWork } from './BriefWork';
import { CheckScreen } from './CheckScreen';
import { CompareScreen } from './CompareScreen';
import ui from '../pieces/ui.module.css';

/** What writers get: the list of briefs, one of them, its ranking pages side by side, or a text next to what was asked for. */
export function BriefsScreen() {
  const list = useListState();
  const id = list.numeric('id');
  const page = list.numeric('page');
  if (page !== undefined)
    return <CheckScreen key={`page ${page}`} of={{ page }} back={() => list.set({ page: undefined })} />;
  return id === undefined ? <BriefList list={list} /> : <OneBrief key={id} id={id} list={list} />;
}

function OneBrief({ id, list }: { id: number; list: ListState }) {
  const [section, setSection] = useState(0);
  const view = useQuery(briefEvidence(id));
  usePlaceName(view.data?.row.primary);
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
            <span className={ui.gap} />
            proposed {day(data.row.updatedAt)}, {counted(data.row.changes, 'change')} by you
          </>
        )
      }
    />
  );
}
