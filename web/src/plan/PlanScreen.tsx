import { Button, Dropdown } from 'antd';
import { Fragment, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useProject } from '../api/hooks';
import { Stage } from '../pieces/Stage';
import { exportUrl, useListState } from '../pieces/useListState';
import { AddStepPane } from './AddStepPane';
import { LinksView } from './LinksView';
import { PeoplePane } from './PeoplePane';
import styles from './plan.module.css';
import { PlanPane } from './PlanPane';
import { PlanImportPane } from './PlanImportPane';
import { ReportPane } from './ReportPane';
import { Roadmap } from './Roadmap';
import { StepPane } from './StepPane';
import { StepsSentence } from './StepsSentence';
import { StepsTable } from './StepsTable';
import { stepQuery } from './useSteps';

export type Shown = 'people' | 'import' | 'add' | 'report' | undefined;

const views = ['steps', 'roadmap', 'links'] as const;

/** The plan: steps in their order, the same over time, and the links between pages. */
export function PlanScreen() {
  const list = useListState();
  const [params] = useSearchParams();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<React.ReactNode>(null);
  const [shown, setShown] = useState<Shown>();
  const view = (list.text('view') ?? 'steps') as (typeof views)[number];
  const selected = list.numeric('id');
  const query = stepQuery(list);
  const addressOf = (to: string) => {
    const next = new URLSearchParams(params);
    if (to === 'steps') next.delete('view');
    else next.set('view', to);
    return `/plan?${next.toString()}`;
  };
  const select = (id: number) => {
    setShown(undefined);
    list.set({ id });
  };
  const file = (path: string) => <a href={exportUrl(`/api/plan/${path}`, query)}>{names[path]}</a>;
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Plan</h1>
            <nav className={`${styles.views} cut`} aria-label="Views of the plan">
              {views.map((v) => (
                <Fragment key={v}>
                  <Link to={addressOf(v)} aria-current={view === v ? 'page' : undefined}>
                    {v}
                  </Link>
                  {v !== views.at(-1) && <span aria-hidden>·</span>}
                </Fragment>
              ))}
            </nav>
            <span className="gap" />
            <Button onClick={() => setShown('add')}>Add step</Button>
            <Button onClick={() => setShown('people')}>People and hours</Button>
            <Button onClick={() => setShown('report')}>Progress</Button>
            <Button onClick={() => setShown('import')}>Import</Button>
            <Dropdown
              trigger={['click']}
              menu={{ items: Object.keys(names).map((path) => ({ key: path, label: file(path) })) }}
            >
              <Button type="primary">Export</Button>
            </Dropdown>
          </div>
          {view !== 'links' && <StepsSentence list={list} query={query} />}
          {view === 'roadmap' ? (
            <Roadmap query={query} selected={selected} onSelect={select} host={host} onTally={setTally} />
          ) : view === 'links' ? (
            <LinksView list={list} host={host} onTally={setTally} />
          ) : (
            <StepsTable list={list} query={query} host={host} onSelect={select} onTally={setTally} />
          )}
        </>
      }
      pane={
        shown === 'people' ? (
          <PeoplePane close={() => setShown(undefined)} />
        ) : shown === 'add' ? (
          <AddStepPane host={host} added={select} close={() => setShown(undefined)} />
        ) : shown === 'import' ? (
          <PlanImportPane close={() => setShown(undefined)} />
        ) : shown === 'report' ? (
          <ReportPane close={() => setShown(undefined)} />
        ) : selected !== undefined && view !== 'links' ? (
          <StepPane key={selected} id={selected} host={host} />
        ) : (
          <PlanPane host={host} query={query} />
        )
      }
      tally={tally ?? <span className="quiet">counting…</span>}
    />
  );
}

/** What the plan can be taken away as. */
const names: Record<string, string> = {
  'steps.xlsx': 'Workbook: steps, roadmap, keywords by page (XLSX)',
  'steps.csv': 'Steps (CSV)',
  'steps.json': 'Steps (JSON)',
  'steps.md': 'Steps (Markdown)',
  'steps.ics': 'Due dates (iCalendar)',
  'redirects.csv': 'Redirects (CSV)',
  'redirects.apache': 'Redirects, rules for Apache',
  'redirects.nginx': 'Redirects, rules for nginx',
  'canonicals.csv': 'Canonicals (CSV)',
  'titles.csv': 'Titles (CSV)',
  'links.csv': 'Links (CSV)',
};
