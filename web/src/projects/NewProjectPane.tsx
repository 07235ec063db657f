import { Button, Form, Select } from 'antd';
import { projectUrl } from '../api/base';
import { answer, listApi } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { ProfileFields } from '../site/ProfileFields';
import { sources } from './CopySettings';
import type { Project } from './useProjects';

/** A new project: its site and market, and the settings that it shares with another. */
export const NewProjectPane = ({ projects, close }: { projects: readonly Project[]; close: () => void }) => (
  <>
    <h2>New project</h2>
    <p>One site in one market. A shop in three countries is three projects.</p>
    <ChangeForm
      values={{ host: '', name: '', country: 'GB', language: 'en', settingsOf: '' }}
      change={({ settingsOf, ...form }) =>
        answer(listApi.POST('/api/projects', { body: { ...form, settingsOf: settingsOf || null, parts: null } }))
      }
      done={(project) => {
        window.location.assign(projectUrl(project.id));
        return undefined;
      }}
      act="Create and open"
      acts={<Button onClick={close}>Close</Button>}
      isReady={(form) => form.host.trim() !== ''}
      close={close}
    >
      <ProfileFields />
      {sources(projects).length > 0 && (
        <Form.Item
          name="settingsOf"
          label="Settings of"
          extra="Rules of intent, ignore lists, services without keys, hours of steps, title patterns"
        >
          <Select options={[{ value: '', label: 'no other project' }, ...sources(projects)]} />
        </Form.Item>
      )}
    </ChangeForm>
  </>
);
