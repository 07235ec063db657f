import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input, Popconfirm, Radio, Select } from 'antd';
import { useState } from 'react';
import { answer, listApi, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { ChangeForm } from '../pieces/ChangeForm';
import { moment } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { roles, team } from './useTeam';
import ui from '../pieces/ui.module.css';

/** Who can sign in: added, given another role or password, and removed. */
export function TeamPane({ close }: { close: () => void }) {
  const view = useQuery(team);
  const [chosen, setChosen] = useState<number>();
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { users, isOpen } = view.data;
  const reload = () => void view.refetch();
  return (
    <>
      <h2>Team</h2>
      <p>
        {isOpen
          ? 'Those who can sign in, in all projects. On this machine itself nobody has to.'
          : 'Only this machine reaches Jade Orchard now. Start it with --listen, and those named here can sign in from elsewhere.'}
      </p>
      {users.length > 0 && (
        <table className={ui.facts}>
          <tbody>
            {users.map((user) => (
              <tr key={user.id}>
                <td>
                  <button
                    className={ui.chip}
                    aria-expanded={chosen === user.id}
                    onClick={() => setChosen(chosen === user.id ? undefined : user.id)}
                  >
                    {user.name}
                  </button>{' '}
                  {user.role}
                  <div className={ui.quiet}>
                    {user.signedInAt ? `last signed in ${moment(user.signedInAt)}` : 'has never signed in'}
                  </div>
                  {chosen === user.id && (
                    <UserPart
                      user={user}
                      done={() => {
                        setChosen(undefined);
                        reload();
                      }}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h3>Add somebody</h3>
      <ChangeForm
        values={{ name: '', role: users.length === 0 ? ('planner' as const) : ('writer' as const), password: '' }}
        change={(body) => answer(listApi.POST('/api/team', { body }))}
        done={(user) => {
          reload();
          return `${user.name} can sign in. Tell them the password; they can choose another one then.`;
        }}
        clears={['name', 'password']}
        act="Add"
        acts={<Button onClick={close}>Close</Button>}
        isReady={(form) => form.name.trim() !== '' && form.password !== ''}
        close={close}
      >
        <Form.Item name="name" label="Name" extra="As it stands beside their changes, and on briefs as their writer">
          <Input autoComplete="off" maxLength={60} />
        </Form.Item>
        <Form.Item name="role" label="Role">
          <Radio.Group
            options={roles.map(({ value, label, says }) => ({
              value,
              label: (
                <>
                  {label} <span className={ui.quiet}>{says}</span>
                </>
              ),
            }))}
          />
        </Form.Item>
        <Form.Item name="password" label="Password" extra="At least 12 characters">
          <Input.Password autoComplete="new-password" maxLength={200} />
        </Form.Item>
      </ChangeForm>
    </>
  );
}

/** What can be changed of somebody. */
function UserPart({ user, done }: { user: Schema['User']; done: () => void }) {
  const path = { path: { id: user.id } };
  const remove = useChange(
    () => answer(listApi.DELETE('/api/team/{id}', { params: path })),
    () => {
      done();
      return `${user.name} can no longer sign in.`;
    },
  );
  return (
    <>
      <ChangeForm
        values={{ role: user.role, password: '' }}
        change={({ role, password }) =>
          answer(
            listApi.PUT('/api/team/{id}', {
              params: path,
              body: { role: role === user.role ? null : role, password: password === '' ? null : password },
            }),
          )
        }
        done={() => {
          done();
          return `${user.name} has to sign in again.`;
        }}
        act="Save"
        isPlain
        isReady={(form) => form.role !== user.role || form.password !== ''}
        acts={
          <Popconfirm
            title={`Remove ${user.name}?`}
            description="They are signed out at once. Their name stays beside what they changed."
            okText="Remove"
            onConfirm={() => remove.mutate(undefined)}
          >
            <Button danger disabled={remove.isPending}>
              Remove
            </Button>
          </Popconfirm>
        }
      >
        <Form.Item name="role" label="Role">
          <Select options={roles.map(({ value, label }) => ({ value, label }))} />
        </Form.Item>
        <Form.Item name="password" label="New password" extra="Leave it empty to keep the one they have">
          <Input.Password autoComplete="new-password" maxLength={200} />
        </Form.Item>
      </ChangeForm>
    </>
  );
}
