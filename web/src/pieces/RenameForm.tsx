import { Form, Input } from 'antd';
import type { ReactNode } from 'react';
import { ChangeForm } from './ChangeForm';
import ui from './ui.module.css';

/** A name that can be changed, and what else is in its line. */
export const RenameForm = ({
  label,
  name,
  rename,
  children,
}: {
  label: string;
  name: string;
  rename: (name: string) => Promise<unknown>;
  children?: ReactNode;
}) => (
  <ChangeForm
    key={name}
    values={{ name }}
    change={(form) => rename(form.name)}
    act="Rename"
    acts={children}
    isReady={(form) => form.name !== name}
    isPlain
    isLine
  >
    <Form.Item name="name">
      <Input aria-label={label} className={ui.long} maxLength={200} />
    </Form.Item>
  </ChangeForm>
);
