import { Form, Input, type InputRef, Popover } from 'antd';
import { useRef, useState, type ReactElement } from 'react';
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
  const field = useRef<InputRef>(null);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      // Before that it is not on screen yet, and cannot be focused.
      afterOpenChange={(isOpen) => isOpen && field.current?.focus()}
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
            <Input ref={field} aria-label={label} placeholder={placeholder} maxLength={300} className={ui.long} />
          </Form.Item>
        </ChangeForm>
      }
    >
      {children}
    </Popover>
  );
}
