import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect } from 'react';
import { projectUrl } from '../api/base';
import { ViewMenu } from '../app/ViewMenu';
import { DataTable } from '../pieces/DataTable';
import { counted, size } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { Failed, NotYet, Reading } from '../pieces/States';
import { useListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { ImportProjectPane } from './ImportProjectPane';
import { NewProjectPane } from './NewProjectPane';
import { ProjectPane } from './ProjectPane';
import { projectColumns } from './projectColumns';
import { allProjects, chosen, projectsQuery, states, titleOf } from './useProjects';
import { useCanChange } from '../team/session';
import { TeamPane } from '../team/TeamPane';
import { UserMenu } from '../team/UserMenu';
import shell from '../app/shell.module.css';
import styles from './projects.module.css';
import ui from '../pieces/ui.module.css';

const ignore = () => undefined;

/** All projects: opened, made, taken along, put away and backed up. */
export function ProjectsScreen() {
  const list = useListState();
  const pane = usePane(list, ['new', 'import', 'team'] as const);
  const projects = useQuery({ ...allProjects, refetchInterval: 10_000 });
  const canChange = useCanChange();
  const query = projectsQuery(list);
  useEffect(() => {
    document.title = 'Projects · Jade Orchard';
  }, []);
  if (projects.isError && !projects.data)
    return <Failed error={projects.error} retry={() => void projects.refetch()} />;
  if (!projects.data) return <Reading />;
  const all = projects.data;
  const rows = chosen(all, query);
  const selected = all.find((p) => p.id === list.text('id'));
  const count = (state: string) => all.filter((p) => p.state === state).length;
  return (
    <div className={shell.shell}>
      <header className={shell.top}>
        <span className={shell.name}>Jade Orchard</span>
        <span className={ui.gap} />
        <a className={shell.soft} href="/guide" target="_blank" rel="noreferrer">
          Guide
        </a>
        {canChange && <button onClick={() => pane.open('team')}>Team</button>}
        <ViewMenu />
        <UserMenu />
      </header>
      <ListScreen
        title="Projects"
        views={
          <span className={ui.views} role="group" aria-label="Which projects">
            {states.map(({ state, says }) => (
              <button
                key={state}
                aria-pressed={query.state === state}
                onClick={() => list.set({ state: state === 'active' ? undefined : state, id: undefined })}
              >
                {says} {count(state)}
              </button>
            ))}
          </span>
        }
        actions={
          <>
            <Input
              className={styles.find}
              aria-label="Search projects"
              placeholder="Search name, site or market"
              allowClear
              value={query.search ?? ''}
              onChange={(event) => list.set({ search: event.target.value })}
            />
            <Button onClick={() => pane.open('import')}>Import a project</Button>
            <Button type="primary" onClick={() => pane.open('new')}>
              New project
            </Button>
          </>
        }
        pane={
          pane.shown === 'new' ? (
            <NewProjectPane projects={all} close={pane.close} />
          ) : pane.shown === 'import' ? (
            <ImportProjectPane close={pane.close} />
          ) : pane.shown === 'team' && canChange ? (
            <TeamPane close={pane.close} />
          ) : selected ? (
            <ProjectPane key={selected.id} project={selected} projects={all} />
          ) : (
            <AboutProjects />
          )
        }
        tally={
          <>
            <span>
              <b>{rows.length}</b> {rows.length === 1 ? 'project' : 'projects'}
            </span>
            <span>
              <b>{size(rows.reduce((sum, p) => sum + p.bytes, 0))}</b> on this machine
            </span>
            {rows.some((p) => p.jobs > 0) && (
              <span>
                {counted(
                  rows.reduce((sum, p) => sum + p.jobs, 0),
                  'job',
                )}{' '}
                under way
              </span>
            )}
            {rows.some((p) => p.fault) && (
              <span className={ui.clay}>{counted(rows.filter((p) => p.fault).length, 'project')} cannot be opened</span>
            )}
          </>
        }
      >
        <DataTable
          name="projects"
          query={{ ...query, of: rows.map((p) => [p.id, p.changedAt, p.name, p.jobs, p.fault]) }}
          read={({ Offset, Limit, Find }) => {
            const place = rows.findIndex((p) => p.id === Find);
            return Promise.resolve({
              rows: rows.slice(Offset, Offset + Limit),
              tally: {
                rows: rows.length,
                keywords: 0,
                demand: 0,
                meanDifficulty: null,
                atStake: 0,
                captured: 0,
                place: place < 0 ? null : place,
              },
            });
          }}
          columns={projectColumns(query.state)}
          list={list}
          idOf={(p) => p.id}
          selected={selected?.id}
          onSelect={(p) => list.set({ id: p.id, pane: undefined })}
          onKey={(key, row) => {
            if (key !== 'Enter' || row?.state !== 'active') return false;
            window.location.assign(projectUrl(row.id));
            return true;
          }}
          onTally={ignore}
          empty={
            query.search ? (
              <NotYet title="No project fits">Search for something else.</NotYet>
            ) : query.state === 'active' ? (
              <NotYet title="No project is worked on">
                <p>Make one, import one from a file, or take one back from the archive.</p>
                <Button onClick={() => pane.open('new')}>New project</Button>
              </NotYet>
            ) : (
              <NotYet title={query.state === 'archived' ? 'Nothing is archived' : 'The trash is empty'}>
                {query.state === 'archived'
                  ? 'Archive a project to put it away: nothing of it runs then, and it can be taken back.'
                  : 'Deleted projects stay here for 30 days.'}
              </NotYet>
            )
          }
        />
      </ListScreen>
    </div>
  );
}

/** What is worth knowing while no project is selected. */
function AboutProjects() {
  const projects = useQuery(allProjects).data ?? [];
  const recent = projects
    .filter((p) => p.state === 'active' && !p.fault)
    .sort((a, b) => (a.changedAt < b.changedAt ? 1 : -1))
    .slice(0, 5);
  return (
    <>
      <h2>Last worked on</h2>
      {recent.length === 0 && <p>Nothing yet.</p>}
      <ul className={ui.plain}>
        {recent.map((p) => (
          <li key={p.id}>
            <a href={projectUrl(p.id)}>{titleOf(p)}</a> <span className={ui.second}>{p.host}</span>
          </li>
        ))}
      </ul>
      <hr />
      <p>
        A project is one site in one market, in a file of its own. It is backed up on each day on which it is used;
        select it to see its backups, to duplicate it, or to take it to another machine.
      </p>
    </>
  );
}
