import { Checkbox, Form, Select } from 'antd';
import { answer, listApi, type Schema } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { titleOf, type Project } from './useProjects';
import ui from '../pieces/ui.module.css';

/** What can be had from another project. */
export const parts: { value: Schema['SettingsPart']; label: string }[] = [
  { value: 'intents', label: 'rules of intent and question words' },
  { value: 'ignoreLists', label: 'ignore lists: brands, terms, tracking parameters' },
  { value: 'services', label: 'services, without their keys' },
  { value: 'effort', label: 'hours of steps' },
  { value: 'titles', label: 'title patterns' },
];

/** Projects that others can have settings of. */
export const sources = (projects: readonly Project[], except?: string) =>
  projects
    .filter((p) => p.state === 'active' && !p.fault && p.id !== except)
    .map((p) => ({ value: p.id, label: titleOf(p) }));

/** Takes settings over from another project. */
export function CopySettings({ project, projects }: { project: Project; projects: readonly Project[] }) {
  const others = sources(projects, project.id);
  if (others.length === 0) return null;
  return (
    <>
      <hr />
      <h3>Copy settings from another project</h3>
      <ChangeForm
        values={{ from: others[0]!.value, parts: parts.map((p) => p.value) }}
        change={(body) =>
          answer(listApi.POST('/api/projects/{project}/settings', { params: { path: { project: project.id } }, body }))
        }
        done={() => 'Copied. It can be undone in the project.'}
        act="Copy settings"
        isPlain
        isReady={(form) => form.parts.length > 0}
      >
        <Form.Item name="from" label="From">
          <Select options={others} showSearch={{ optionFilterProp: 'label' }} />
        </Form.Item>
        <Form.Item name="parts" label="What">
          <Checkbox.Group className={ui.boxes} options={parts} />
        </Form.Item>
      </ChangeForm>
    </>
  );
}
