import { Button, Form, Input } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { counted, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** Addresses of the site, pasted one a line. */
export function PastePages({ close }: { close: () => void }) {
  const [pasted, setPasted] = useState<Schema['PastePagesAnswer']>();
  return (
    <>
      <h2>Paste addresses</h2>
      <p>
        Addresses of the site’s pages, one a line; “/guides/x” is taken as one of the site. Titles come with a scan.
      </p>
      <ChangeForm
        values={{ text: '' }}
        change={(body) => answer(api.POST('/api/pages/paste', { body }))}
        done={(answered) => {
          setPasted(answered);
          return undefined;
        }}
        act="Add"
        acts={<Button onClick={close}>Close</Button>}
        isReady={(form) => form.text.trim() !== ''}
      >
        <Form.Item name="text">
          <Input.TextArea rows={10} aria-label="Addresses, one a line" />
        </Form.Item>
      </ChangeForm>
      {pasted && (
        <p role="status">
          {counted(pasted.added, 'new page')}, {number(pasted.known)} known.
          {pasted.rejectedCount > 0 && ` ${counted(pasted.rejectedCount, 'line')} rejected:`}
        </p>
      )}
      {pasted?.rejected.map((r) => (
        <div key={r} className={ui.second}>
          {r}
        </div>
      ))}
    </>
  );
}
