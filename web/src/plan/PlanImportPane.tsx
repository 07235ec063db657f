import { Button } from 'antd';
import { useState } from 'react';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { upload } from '../api/upload';
import { counted } from '../pieces/format';
import { RejectedRows } from '../pieces/RejectedRows';
import ui from '../pieces/ui.module.css';

/** Status, owners and due dates from the exported table, as a team changed it: looked at first, then applied as one step. */
export function PlanImportPane({ close }: { close: () => void }) {
  const [uploadId, setUploadId] = useState<string>();
  const [preview, setPreview] = useState<Schema['PlanImportView']>();
  const bring = useChange(async (file: File) => {
    const brought = await upload(file, file.name);
    const view = await answer(api.POST('/api/plan/import', { body: { uploadId: brought.uploadId, apply: false } }));
    setUploadId(brought.uploadId);
    setPreview(view);
    return view;
  });
  const apply = useChange(
    () => answer(api.POST('/api/plan/import', { body: { uploadId: uploadId!, apply: true } })),
    (view) => {
      close();
      return `${counted(view.changes.length, 'step')} changed.`;
    },
  );
  return (
    <>
      <h2>Import status, owners and due dates</h2>
      <p>
        Bring back the workbook or CSV that was exported here. The column Step tells which step a row is about; Status,
        Owner and Due are read, the rest stays as it is.
      </p>
      <label className={`${ui.drop} ${ui.block}`}>
        Choose a file
        <br />
        <input
          type="file"
          accept=".csv,.tsv,.xlsx"
          className={ui.spaced}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) bring.mutate(file);
          }}
        />
      </label>
      {bring.isError && <p className={ui.clay}>{bring.error.message}</p>}
      {preview && (
        <>
          <p>
            {counted(preview.changes.length, 'step')} would change, {counted(preview.same, 'row')}{' '}
            {preview.same === 1 ? 'says' : 'say'} what is there already, {preview.rejected.length} rejected.
          </p>
          <table className={ui.facts}>
            <tbody>
              {preview.changes.slice(0, 100).map((c) => (
                <tr key={c.stepId}>
                  <td>{c.stepId}</td>
                  <td>{c.says}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {preview.rejected.length > 0 && (
            <RejectedRows
              href={fileUrl(`/api/plan/import/rejected.csv?uploadId=${encodeURIComponent(uploadId!)}`)}
              rows={preview.rejected.slice(0, 100)}
            />
          )}
        </>
      )}
      <div className={ui.acts}>
        <Button
          type="primary"
          disabled={!preview || preview.changes.length === 0}
          loading={apply.isPending}
          onClick={() => apply.mutate(undefined)}
        >
          Apply
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}
