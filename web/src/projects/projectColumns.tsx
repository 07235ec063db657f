import type { Column } from '../pieces/DataTable';
import { market, moment, number, size } from '../pieces/format';
import { projectUrl } from '../api/base';
import { stageTitle } from '../app/stages';
import { titleOf, type Project } from './useProjects';
import ui from '../pieces/ui.module.css';

/** The columns of the list of projects; in the trash, when they go for good. */
export const projectColumns = (state: Project['state']): Column<Project>[] => [
  {
    key: 'name',
    title: 'Project',
    width: 'minmax(150px, 2fr)',
    render: (p) =>
      p.fault ? (
        <span title={p.fault}>
          <b className={ui.clay}>!</b> {titleOf(p)}
        </span>
      ) : p.state === 'active' ? (
        <a href={projectUrl(p.id)}>{titleOf(p)}</a>
      ) : (
        titleOf(p)
      ),
  },
  { key: 'site', title: 'Site', width: 'minmax(120px, 1.4fr)', render: (p) => p.host || '–' },
  {
    key: 'market',
    title: 'Market',
    width: '82px',
    render: (p) => (p.host ? <span title={market(p.country, p.language)}>{`${p.country} · ${p.language}`}</span> : '–'),
  },
  ...(state === 'active'
    ? [
        {
          key: 'stage',
          title: 'Stage',
          width: 'minmax(150px, 1.4fr)',
          sorts: false,
          render: (p: Project) =>
            p.fault ? (
              <span className={ui.clay}>cannot be opened</span>
            ) : p.stage ? (
              <>
                {stageTitle(`/${p.stage}`)} <span className={ui.second}>{p.stageSays}</span>
              </>
            ) : (
              <span className={ui.second}>nothing yet</span>
            ),
        },
        {
          key: 'keywords',
          title: 'Keywords',
          width: '84px',
          numeric: true,
          yields: 2,
          render: (p: Project) => number(p.keywords),
        },
      ]
    : []),
  { key: 'changed', title: 'Last change', width: '138px', render: (p) => moment(p.changedAt) },
  ...(state === 'deleted'
    ? [{ key: 'gone', title: 'Gone for good', width: '138px', render: (p: Project) => moment(p.goneAt) }]
    : []),
  { key: 'size', title: 'Size', width: '76px', numeric: true, yields: 1, render: (p) => size(p.bytes) },
];
