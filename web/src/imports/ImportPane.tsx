import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange, useFormChange, useJob } from '../api/hooks';
import { keyOf } from '../api/keys';
import { upload as send } from '../api/upload';
import { JobProgress } from '../pieces/JobProgress';
import { RejectedRows } from '../pieces/RejectedRows';

type Kind = Schema['ImportRequest']['kind'];

const nouns: Record<Kind, string> = {
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
        className="drop"
        style={{ display: 'block', outline: over ? '2px solid var(--jade)' : undefined }}
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
          style={{ marginTop: 8, maxWidth: '100%' }}
          onChange={(event) => pick(event.target.files?.[0])}
        />
      </label>
      <p style={{ marginTop: 12 }}>Or paste rows, with the header:</p>
      <Input.TextArea
        rows={5}
        value={text}
        aria-label="Rows to import"
        placeholder={kind === 'keywords' ? 'keyword,volume\nsea kayak,6600' : undefined}
        onChange={(event) => setText(event.target.value)}
      />
      {bring.isError && <p className="clay">{bring.error.message}</p>}
      <div className="acts">
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
      <table className="facts">
        <tbody>
          {columns.data?.[kind]?.map((column) => (
            <tr key={column.name}>
              <td>{column.isRequired ? <b>{column.name}</b> : column.name}</td>
              <td className="second">
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

function MapColumns({
  kind,
  upload,
  begun,
  back,
}: {
  kind: Kind;
  upload: Schema['UploadView'];
  begun: (job: number) => void;
  back: () => void;
}) {
  const [places, setPlaces] = useState<Record<string, number>>(upload.columns[kind] ?? {});
  const columns = useQuery({
    queryKey: keyOf('columns'),
    queryFn: () => answer(api.GET('/api/imports/columns')),
    staleTime: Infinity,
  });
  const start = useFormChange(async () => {
    const job = await answer(
      api.POST('/api/imports', {
        body: { uploadId: upload.uploadId, fileName: upload.fileName, kind, columns: places },
      }),
    );
    begun(job.id);
    return job;
  });
  const missing = columns.data?.[kind]?.filter((c) => c.isRequired && places[c.name] === undefined) ?? [];
  return (
    <>
      <p>
        <b>{upload.fileName}</b>: {upload.says}. Map its columns; columns that are not mapped are left out.
        {upload.remembered.includes(kind) && ' The columns are mapped as you did for such a file before.'}
      </p>
      {upload.looksLike[0] && upload.looksLike[0] !== kind && (
        <p className="clay">
          The header looks like {nouns[upload.looksLike[0]]}, not {nouns[kind]}. Check that this is the right file.
        </p>
      )}
      <table className="facts">
        <thead>
          <tr>
            <th>Goes to</th>
            <th>Column of the file</th>
            <th>First row</th>
          </tr>
        </thead>
        <tbody>
          {columns.data?.[kind]?.map((column) => {
            const place = places[column.name];
            return (
              <tr key={column.name}>
                <td title={column.says}>{column.isRequired ? <b>{column.name}</b> : column.name}</td>
                <td>
                  <Select
                    aria-label={`Column for ${column.name}`}
                    size="small"
                    style={{ width: 150 }}
                    allowClear
                    placeholder={column.isRequired ? 'choose' : 'none'}
                    status={column.isRequired && place === undefined ? 'error' : undefined}
                    value={place}
                    options={upload.header.map((label, value) => ({ value, label: label || `column ${value + 1}` }))}
                    onChange={(next?: number) =>
                      setPlaces((before) => {
                        const others = Object.entries(before).filter(([name]) => name !== column.name);
                        return Object.fromEntries(next === undefined ? others : [...others, [column.name, next]]);
                      })
                    }
                  />
                </td>
                <td className="quiet cut" style={{ maxWidth: 130 }}>
                  {place === undefined ? '' : upload.sample[0]?.[place]}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {missing.length > 0 && (
        <p className="clay">Choose the column that holds the {missing.map((c) => c.name).join(' and the ')}.</p>
      )}
      {start.isError && (
        <p className="clay">{start.error instanceof ApiError ? start.error.message : 'That failed.'}</p>
      )}
      <div className="acts">
        <Button
          type="primary"
          disabled={missing.length > 0}
          loading={start.isPending}
          onClick={() => start.mutate(undefined)}
        >
          Import
        </Button>
        <Button onClick={back}>Another file</Button>
      </div>
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
            <RejectedRows href={`/api/imports/${jobId}/rejected.csv`} rows={rejected.data} />
          )}
          <div className="acts">
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

/** Imports so far, newest first. */
export function ImportHistory() {
  const imports = useQuery({ queryKey: keyOf('imports'), queryFn: () => answer(api.GET('/api/imports')) });
  const [open, setOpen] = useState<number>();
  const rejected = useQuery({
    queryKey: keyOf('rejected', open),
    enabled: open !== undefined,
    queryFn: () => answer(api.GET('/api/imports/{id}/rejected', { params: { path: { id: open! } } })),
  });
  if (!imports.data || imports.data.length === 0) return <p>No imports yet.</p>;
  return (
    <>
      <table className="facts">
        <thead>
          <tr>
            <th>File</th>
            <th>What came of it</th>
          </tr>
        </thead>
        <tbody>
          {imports.data.map((row) => (
            <tr key={row.id}>
              <td style={{ wordBreak: 'break-word' }}>{row.fileName}</td>
              <td>
                {row.message}{' '}
                {row.rowsRejected > 0 && (
                  <button className="chip" onClick={() => setOpen(open === row.id ? undefined : row.id)}>
                    {open === row.id ? 'hide them' : 'which ones?'}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open !== undefined && rejected.data && (
        <RejectedRows href={`/api/imports/${open}/rejected.csv`} rows={rejected.data} />
      )}
    </>
  );
}
