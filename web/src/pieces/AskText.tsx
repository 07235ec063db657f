import { Button, Input, Popover } from 'antd';
import { useState, type ReactElement } from 'react';
import { ApiError } from '../api/client';
import { useFormChange } from '../api/hooks';
import ui from './ui.module.css';

/** Asks for a short text before something is done with it. */
export function AskText<TAnswer>({
  label,
  placeholder,
  act,
  note,
  change,
  done,
  children,
}: {
  label: string;
  placeholder: string;
  act: string;
  note?: string;
  change: (text: string) => Promise<TAnswer>;
  done: (answer: TAnswer) => string;
  children: ReactElement;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const doing = useFormChange(change, (answer) => {
    setOpen(false);
    setText('');
    return done(answer);
  });
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className={ui.editor}
          onSubmit={(event) => {
            event.preventDefault();
            doing.mutate(text);
          }}
        >
          <div className={ui.line}>
            <Input
              autoFocus
              aria-label={label}
              placeholder={placeholder}
              maxLength={300}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
            <Button type="primary" htmlType="submit" disabled={text.trim() === ''} loading={doing.isPending}>
              {act}
            </Button>
          </div>
          {note && <span className={ui.quiet}>{note}</span>}
          {doing.error instanceof ApiError && <div className={ui.fault}>{doing.error.message}</div>}
        </form>
      }
    >
      {children}
    </Popover>
  );
}
