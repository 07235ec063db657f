import { Button, Input } from 'antd';
import { useState, type ReactNode } from 'react';
import ui from './ui.module.css';

/** A name that can be changed, and what else is in its line. */
export function RenameForm({
  label,
  name,
  rename,
  children,
}: {
  label: string;
  name: string;
  rename: (name: string) => void;
  children?: ReactNode;
}) {
  const [text, setText] = useState(name);
  const [shown, setShown] = useState(name);
  if (shown !== name) {
    setShown(name);
    setText(name);
  }
  return (
    <form
      className={ui.acts}
      onSubmit={(event) => {
        event.preventDefault();
        rename(text);
      }}
    >
      <Input
        aria-label={label}
        className={ui.long}
        maxLength={200}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button htmlType="submit" disabled={text === name}>
        Rename
      </Button>
      {children}
    </form>
  );
}
