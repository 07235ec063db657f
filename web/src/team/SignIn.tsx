import { Form, Input, Modal } from 'antd';
import { answer, listApi } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { setSession, useSession } from './session';
import styles from './team.module.css';

const SignInForm = ({ name = '', done }: { name?: string; done: () => void }) => (
  <ChangeForm
    values={{ name, password: '' }}
    change={(body) => answer(listApi.POST('/api/session', { body }))}
    done={(session) => {
      setSession(session);
      done();
      return undefined;
    }}
    act="Sign in"
    tellsAll
  >
    <Form.Item name="name" label="Name">
      <Input autoFocus={name === ''} autoComplete="username" maxLength={60} />
    </Form.Item>
    <Form.Item name="password" label="Password">
      <Input.Password autoFocus={name !== ''} autoComplete="current-password" maxLength={200} />
    </Form.Item>
  </ChangeForm>
);

/** The first that is seen where everybody signs in. */
export const SignInScreen = () => (
  <main className={styles.signIn}>
    <h1>Jade Orchard</h1>
    <SignInForm done={() => window.location.reload()} />
    <p>Forgotten your password? A planner can give you another one.</p>
    <p>
      <a href="/guide">The guide</a>
    </p>
  </main>
);

/** Asks to sign in again where a session has ended. What is on screen stays below, with what was typed into it. */
export function SignInAgain({ name, done }: { name: string; done: () => void }) {
  const { hasSignIn, user } = useSession();
  return (
    <Modal title="Sign in again" open={hasSignIn && !user} footer={null} closable={false} destroyOnHidden>
      <p>Your session has ended. Nothing that you see here is lost.</p>
      <SignInForm name={name} done={done} />
    </Modal>
  );
}
