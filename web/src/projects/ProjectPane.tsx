import { Button, Form, Input, Popconfirm, Radio } from 'antd';
import { projectUrl } from '../api/base';
import { answer, listApi } from '../api/client';
import { useChange } from '../api/hooks';
import { ChangeForm } from '../pieces/ChangeForm';
import { day, market, moment, number, size } from '../pieces/format';
import { useListState } from '../pieces/useListState';
import { BackupsPart } from './BackupsPart';
import { CopySettings } from './CopySettings';
import { titleOf, type Project } from './useProjects';
import ui from '../pieces/ui.module.css';

/** A project: what it holds, its backups, and what can be done with it as a whole. */
export function ProjectPane({ project, projects }: { project: Project; projects: readonly Project[] }) {
  const { id, state, fault } = project;
  const path = { path: { project: id } };
  const list = useListState();
  const archive = useChange(
    () => answer(listApi.POST('/api/projects/{project}/archive', { params: path })),
    () => 'Archived. Take it back whenever you need it.',
  );
  const takeBack = useChange(
    () => answer(listApi.POST('/api/projects/{project}/take-back', { params: path })),
    (back) => {
      list.set({ state: undefined, id: back.id });
      return 'Taken back.';
    },
  );
  const remove = useChange(
    () => answer(listApi.DELETE('/api/projects/{project}', { params: path })),
    () => {
      list.set({ id: undefined });
      return state === 'deleted' ? 'Deleted for good.' : 'In the trash now, for 30 days.';
    },
  );
  const isBusy = archive.isPending || takeBack.isPending || remove.isPending;
  return (
    <>
      <h2>{titleOf(project)}</h2>
      <p>
        {project.host || 'no site yet'}
        {project.host && ` · ${market(project.country, project.language)}`}
        <br />
        {project.keywords !== null && `${number(project.keywords)} keywords · `}
        {size(project.bytes)} · last changed {moment(project.changedAt)}
      </p>
      {fault && (
        <p role="alert" className={ui.clay}>
          {fault}
        </p>
      )}
      {state === 'deleted' && <p>It is deleted for good on {day(project.goneAt)}.</p>}
      <div className={ui.acts}>
        {state === 'active' ? (
          <Button type="primary" href={projectUrl(id)} disabled={!!fault}>
            Open
          </Button>
        ) : (
          <Button type="primary" disabled={isBusy} onClick={() => takeBack.mutate(undefined)}>
            Take back
          </Button>
        )}
        {state === 'active' && (
          <Button disabled={isBusy} onClick={() => archive.mutate(undefined)}>
            Archive
          </Button>
        )}
        {state === 'deleted' ? (
          <Popconfirm
            title="Delete it for good?"
            description="Its backups go with it. This cannot be undone."
            okText="Delete for good"
            onConfirm={() => remove.mutate(undefined)}
          >
            <Button danger disabled={isBusy}>
              Delete for good
            </Button>
          </Popconfirm>
        ) : (
          <Button disabled={isBusy} onClick={() => remove.mutate(undefined)}>
            Delete
          </Button>
        )}
        {state !== 'deleted' && !fault && (
          <Button href={`/api/projects/${encodeURIComponent(id)}/file`}>Export as one file</Button>
        )}
      </div>
      {state !== 'deleted' && <BackupsPart project={project} />}
      {state === 'active' && !fault && (
        <>
          <Duplicate project={project} />
          <CopySettings project={project} projects={projects} />
        </>
      )}
    </>
  );
}

/** A project like this one, with all that is in it or with its settings alone. */
const Duplicate = ({ project }: { project: Project }) => {
  const list = useListState();
  return (
    <>
      <hr />
      <h3>Duplicate</h3>
      <ChangeForm
        values={{ name: `${titleOf(project)} copy`, withData: true }}
        change={(body) =>
          answer(listApi.POST('/api/projects/{project}/duplicate', { params: { path: { project: project.id } }, body }))
        }
        done={(copy) => {
          list.set({ id: copy.id });
          return 'Duplicated. Links for writers and jobs under way stay with the original.';
        }}
        act="Duplicate"
        isPlain
        isReady={(form) => form.name.trim() !== ''}
      >
        <Form.Item name="name" label="Name of the copy">
          <Input maxLength={200} />
        </Form.Item>
        <Form.Item name="withData" label="With">
          <Radio.Group
            options={[
              { value: true, label: 'all its data' },
              { value: false, label: 'its settings alone' },
            ]}
          />
        </Form.Item>
      </ChangeForm>
    </>
  );
};
