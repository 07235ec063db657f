import { Form, Input, Popover } from 'antd';
import { useState, type ReactElement } from 'react';
import { ChangeForm } from './ChangeForm';
import ui from './ui.module.css';

/** Asks for a short text before something is done with it. */
export function AskText<TAnswer>({
  label,
  placeholder,
  act,
  note,
  isRead = false,
  change,
  done,
  children,
}: {
  label: string;
  placeholder: string;
  act: string;
  note?: string;
  /** It only asks. */
  isRead?: boolean;
  change: (text: string) => Promise<TAnswer>;
  done: (answer: TAnswer) => string;
  children: ReactElement;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      destroyOnHidden
      content={
        <ChangeForm
          values={{ text: '' }}
          change={(form) => change(form.text)}
          done={(answer) => {
            setOpen(false);
            return done(answer);
          }}
          act={act}
          isReady={(form) => form.text.trim() !== ''}
          isLine
          isRead={isRead}
        >
          <Form.Item name="text" extra={note}>
            <Input autoFocus aria-label={label} placeholder={placeholder} maxLength={300} className={ui.long} />
          </Form.Item>
        </ChangeForm>
      }
    >
      {children}
    </Popover>
  );
}
