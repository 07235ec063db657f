import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { useChange, useJob } from '../api/hooks';
import { keyOf } from '../api/keys';
import { upload as send } from '../api/upload';
import { JobProgress } from '../pieces/JobProgress';
import { RejectedRows } from '../pieces/RejectedRows';
import ui from '../pieces/ui.module.css';
import { MapColumns } from './MapColumns';

export type Kind = Schema['ImportRequest']['kind'];

export const nouns: Record<Kind, string> = {
  keywords: 'keywords',
  results: 'result lists',
  pages: 'pages',
  performance: 'search performance',
};

/** Brings a file in: choose or paste, look at the columns, import, and read what was rejected. */
export function ImportPane({ kind, close }: { kind: Kind; close: () => void }) {
  const [upload, setUpload] = useState<Schema['UploadView']>();
  const [jobId, setJobId] = useState<number>();
  return (
    <>
      <h2>Import {nouns[kind]}</h2>
      {jobId !== undefined ? (
        <Outcome
          jobId={jobId}
          again={() => {
            setJobId(undefined);
            setUpload(undefined);
          }}
          close={close}
        />
      ) : upload ? (
        <MapColumns kind={kind} upload={upload} begun={setJobId} back={() => setUpload(undefined)} />
      ) : (
        <Bring kind={kind} brought={setUpload} close={close} />
      )}
    </>
  );
}

function Bring({
  kind,
  brought,
  close,
}: {
  kind: Kind;
  brought: (upload: Schema['UploadView']) => void;
  close: () => void;
}) {
  const [text, setText] = useState('');
  const [over, setOver] = useState(false);
  const bring = useChange(async ({ body, name }: { body: Blob; name: string }) => {
    const view = await send(body, name);
    brought(view);
    return view;
  });
  const columns = useQuery({
    queryKey: keyOf('columns'),
    queryFn: () => answer(api.GET('/api/imports/columns')),
    staleTime: Infinity,
  });
  const pick = (file: File | undefined) => file && bring.mutate({ body: file, name: file.name });
  return (
    <>
      <p>
        A CSV, TSV or XLSX file whose first row names the columns{kind === 'results' && ', or result lists as JSON'}.
        Delimiter and encoding are detected.
      </p>
      <label
        className={`${ui.drop} ${ui.block}${over ? ` ${ui.over}` : ''}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          pick(event.dataTransfer.files[0]);
        }}
      >
        Drop a file here, or choose one
        <br />
        <input
          type="file"
          accept=".csv,.tsv,.txt,.xlsx,.json,text/csv,text/tab-separated-values"
          className={ui.spaced}
          onChange={(event) => pick(event.target.files?.[0])}
        />
      </label>
      <p className={ui.spaced}>Or paste rows, with the header:</p>
      <Input.TextArea
        rows={5}
        value={text}
        aria-label="Rows to import"
        placeholder={kind === 'keywords' ? 'keyword,volume\nsea kayak,6600' : undefined}
        onChange={(event) => setText(event.target.value)}
      />
      {bring.isError && <p className={ui.clay}>{bring.error.message}</p>}
      <div className={ui.acts}>
        <Button
          type="primary"
          disabled={text.trim() === ''}
          loading={bring.isPending}
          onClick={() => bring.mutate({ body: new Blob([text]), name: 'pasted rows' })}
        >
          Use pasted rows
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
      <hr />
      <h3>Columns</h3>
      <table className={ui.facts}>
        <tbody>
          {columns.data?.[kind]?.map((column) => (
            <tr key={column.name}>
              <td>{column.isRequired ? <b>{column.name}</b> : column.name}</td>
              <td className={ui.second}>
                {column.says}
                {column.isRequired && ', required'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Outcome({ jobId, again, close }: { jobId: number; again: () => void; close: () => void }) {
  const job = useJob(jobId).data;
  const rejected = useQuery({
    queryKey: keyOf('rejected', jobId),
    enabled: job?.state === 'done',
    queryFn: () => answer(api.GET('/api/imports/{id}/rejected', { params: { path: { id: jobId } } })),
  });
  return (
    <JobProgress jobId={jobId}>
      {() => (
        <>
          {rejected.data && rejected.data.length > 0 && (
            <RejectedRows href={fileUrl(`/api/imports/${jobId}/rejected.csv`)} rows={rejected.data} />
          )}
          <div className={ui.acts}>
            <Button type="primary" onClick={close}>
              Done
            </Button>
            <Button onClick={again}>Import another file</Button>
          </div>
        </>
      )}
    </JobProgress>
  );
}
