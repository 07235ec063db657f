import { Button, Input } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { counted, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** Addresses of the site, pasted one a line. */
export function PastePages({ close }: { close: () => void }) {
  const [text, setText] = useState('');
  const paste = useChange(() => answer(api.POST('/api/pages/paste', { body: { text } })));
  return (
    <>
      <h2>Paste addresses</h2>
      <p>
        Addresses of the site’s pages, one a line; “/guides/x” is taken as one of the site. Titles come with a scan.
      </p>
      <Input.TextArea
        rows={10}
        aria-label="Addresses, one a line"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {paste.isError && <p className={ui.clay}>{paste.error.message}</p>}
      {paste.data && (
        <p role="status">
          {counted(paste.data.added, 'new page')}, {number(paste.data.known)} known.
          {paste.data.rejectedCount > 0 && ` ${counted(paste.data.rejectedCount, 'line')} rejected:`}
        </p>
      )}
      {paste.data?.rejected.map((r) => (
        <div key={r} className={ui.second}>
          {r}
        </div>
      ))}
      <div className={ui.acts}>
        <Button
          type="primary"
          disabled={text.trim() === ''}
          loading={paste.isPending}
          onClick={() => paste.mutate(undefined)}
        >
          Take in
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}
