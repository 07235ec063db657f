import { Button, Input } from 'antd';
import { useState, type ReactNode } from 'react';

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
      className="acts"
      onSubmit={(event) => {
        event.preventDefault();
        rename(text);
      }}
    >
      <Input
        aria-label={label}
        style={{ width: 210 }}
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
