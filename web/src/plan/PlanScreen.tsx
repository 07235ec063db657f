import { Button, Dropdown } from 'antd';
import { Fragment, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useProject } from '../api/hooks';
import { ListScreen } from '../pieces/ListScreen';
import { exportUrl, useListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { usePicks } from '../pieces/usePicks';
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
import ui from '../pieces/ui.module.css';

const panes = ['people', 'import', 'add', 'report'] as const;
const views = ['steps', 'roadmap', 'links'] as const;

/** The plan: steps in their order, the same over time, and the links between pages. */
export function PlanScreen() {
  const list = useListState();
  const [params] = useSearchParams();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<React.ReactNode>(null);
  const { shown, open, close } = usePane(list, panes);
  const picks = usePicks(list, Number);
  const view = (list.text('view') ?? 'steps') as (typeof views)[number];
  const selected = list.numeric('id');
  const query = stepQuery(list);
  const addressOf = (to: string) => {
    const next = new URLSearchParams(params);
    if (to === 'steps') next.delete('view');
    else next.set('view', to);
    return `/plan?${next.toString()}`;
  };
  const select = (id: number) => list.set({ id, pane: undefined });
  const file = (path: string) => <a href={exportUrl(`/api/plan/${path}`, query)}>{names[path]}</a>;
  return (
    <ListScreen
      title="Plan"
      views={
        <nav className={`${styles.views} ${ui.cut}`} aria-label="Views of the plan">
          {views.map((v) => (
            <Fragment key={v}>
              <Link to={addressOf(v)} aria-current={view === v ? 'page' : undefined}>
                {v}
              </Link>
              {v !== views.at(-1) && <span aria-hidden>·</span>}
            </Fragment>
          ))}
        </nav>
      }
      actions={
        <>
          <Button onClick={() => open('add')}>Add step</Button>
          <Button onClick={() => open('people')}>People and hours</Button>
          <Button onClick={() => open('report')}>Progress</Button>
          <Button onClick={() => open('import')}>Import</Button>
          <Dropdown
            trigger={['click']}
            menu={{ items: Object.keys(names).map((path) => ({ key: path, label: file(path) })) }}
          >
            <Button type="primary">Export</Button>
          </Dropdown>
        </>
      }
      sentence={view !== 'links' && <StepsSentence list={list} query={query} />}
      pickedIds={view === 'steps' ? picks.ids : undefined}
      pane={
        shown === 'people' ? (
          <PeoplePane close={close} />
        ) : shown === 'add' ? (
          <AddStepPane host={host} added={select} close={close} />
        ) : shown === 'import' ? (
          <PlanImportPane close={close} />
        ) : shown === 'report' ? (
          <ReportPane close={close} />
        ) : selected !== undefined && view !== 'links' ? (
          <StepPane key={selected} id={selected} host={host} />
        ) : (
          <PlanPane host={host} query={query} />
        )
      }
      tally={tally ?? <span className={ui.quiet}>counting…</span>}
    >
      {view === 'roadmap' ? (
        <Roadmap query={query} selected={selected} onSelect={select} host={host} onTally={setTally} />
      ) : view === 'links' ? (
        <LinksView list={list} host={host} onTally={setTally} />
      ) : (
        <StepsTable list={list} query={query} host={host} picks={picks} onSelect={select} onTally={setTally} />
      )}
    </ListScreen>
  );
}

/** The files of the plan. */
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
