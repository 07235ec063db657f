import { useQuery } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import ui from '../pieces/ui.module.css';
import { type Kind, nouns } from './ImportPane';

export function MapColumns({
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
        <p className={ui.clay}>
          The header looks like {nouns[upload.looksLike[0]]}, not {nouns[kind]}. Check that this is the right file.
        </p>
      )}
      <table className={ui.facts}>
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
                    className={ui.medium}
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
                <td className={`${ui.quiet} ${ui.cut} ${ui.atMost}`}>
                  {place === undefined ? '' : upload.sample[0]?.[place]}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {missing.length > 0 && (
        <p className={ui.clay}>Choose the column that holds the {missing.map((c) => c.name).join(' and the ')}.</p>
      )}
      {start.isError && (
        <p className={ui.clay}>{start.error instanceof ApiError ? start.error.message : 'That failed.'}</p>
      )}
      <div className={ui.acts}>
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
