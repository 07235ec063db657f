import { Button, Input } from 'antd';
import { useState } from 'react';
import { focusList } from '../app/keys';
import ui from './ui.module.css';

/** Asks why something is decided; Escape goes back to the list. */
export function ReasonForm({
  question,
  placeholder,
  act,
  busy,
  fault,
  submit,
  close,
}: {
  question: string;
  placeholder: string;
  act: string;
  busy?: boolean;
  fault?: string | undefined;
  submit: (reason: string) => void;
  close: () => void;
}) {
  const [reason, setReason] = useState('');
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') submit(reason);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        close();
        focusList();
      }}
    >
      <label>
        <span>{question}</span>
        <Input autoFocus value={reason} placeholder={placeholder} onChange={(event) => setReason(event.target.value)} />
        {fault && <div className={ui.fault}>{fault}</div>}
      </label>
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" loading={busy ?? false} disabled={reason.trim() === ''}>
          {act}
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </form>
  );
}
