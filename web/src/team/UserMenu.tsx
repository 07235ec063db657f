import { Button, Form, Input, Popover } from 'antd';
import { answer, listApi } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { setSession, useSession } from './session';
import { roles, useSignOut } from './useTeam';
import styles from './team.module.css';
import ui from '../pieces/ui.module.css';

/** Who is signed in, their password, and the way out; nothing where nobody signs in. */
export function UserMenu() {
  const { user } = useSession();
  const signOut = useSignOut();
  if (!user) return null;
  const role = roles.find((r) => r.value === user.role);
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      content={
        <div className={styles.menu}>
          <p>
            <b>{user.name}</b>
            <br />
            <span className={ui.second}>
              {role?.label}: {role?.says}
            </span>
          </p>
          <h3>Another password</h3>
          <ChangeForm
            values={{ current: '', password: '' }}
            change={(body) => answer(listApi.PUT('/api/session/password', { body }))}
            done={(session) => {
              setSession(session);
              return 'Your password is changed. Other windows where you are signed in have to sign in again.';
            }}
            act="Change password"
            clears={['current', 'password']}
            isPlain
            isRead
            isReady={(form) => form.current !== '' && form.password !== ''}
          >
            <Form.Item name="current" label="Current password">
              <Input.Password autoComplete="current-password" maxLength={200} />
            </Form.Item>
            <Form.Item name="password" label="New password" extra="At least 12 characters">
              <Input.Password autoComplete="new-password" maxLength={200} />
            </Form.Item>
          </ChangeForm>
          <hr />
          <Button loading={signOut.isPending} onClick={() => signOut.mutate()}>
            Sign out
          </Button>
        </div>
      }
    >
      <button title={`Signed in as ${user.name}, ${role?.label ?? ''}`} aria-label={`Signed in as ${user.name}`}>
        <span className={styles.user}>{user.name}</span>
        {user.role === 'reader' && ' (reader)'} ▾
      </button>
    </Popover>
  );
}
