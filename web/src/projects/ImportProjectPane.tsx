import { Button, Input } from 'antd';
import { useState } from 'react';
import { answer, listApi } from '../api/client';
import { useFormChange } from '../api/hooks';
import { asItIs } from '../api/upload';
import { useListState } from '../pieces/useListState';
import { titleOf } from './useProjects';
import ui from '../pieces/ui.module.css';

/** A project that was exported elsewhere, or a backup, becomes one of this machine. */
export function ImportProjectPane({ close }: { close: () => void }) {
  const list = useListState();
  const [file, setFile] = useState<File>();
  const [name, setName] = useState('');
  const bring = useFormChange(
    (body: File) =>
      answer(
        listApi.POST('/api/projects/import', {
          params: { query: { name: name.trim() || undefined } },
          ...asItIs(body),
        }),
      ),
    (project) => {
      list.set({ id: project.id, pane: undefined, state: undefined });
      return `“${titleOf(project)}” is here now.`;
    },
  );
  return (
    <>
      <h2>Import a project</h2>
      <p>
        A file that “Export as one file” made, here or elsewhere, or a backup. Keys of services do not come along with
        an export, and links for writers do not work in the copy.
      </p>
      <label className={`${ui.drop} ${ui.block}`}>
        Choose the file
        <br />
        <input
          type="file"
          accept=".db"
          className={ui.spaced}
          onChange={(event) => {
            setFile(event.target.files?.[0]);
            bring.reset();
          }}
        />
      </label>
      <label className={ui.spaced}>
        Name; empty for its own
        <Input value={name} maxLength={200} onChange={(event) => setName(event.target.value)} />
      </label>
      {bring.isError && (
        <p role="alert" className={ui.clay}>
          {bring.error.message}
        </p>
      )}
      <div className={ui.acts}>
        <Button type="primary" disabled={!file} loading={bring.isPending} onClick={() => file && bring.mutate(file)}>
          Import
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}
