import { useQuery } from '@tanstack/react-query';
import { Button, Form, Select } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
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
  const columns = useQuery({
    queryKey: keyOf('columns'),
    queryFn: () => answer(api.GET('/api/imports/columns')),
    staleTime: Infinity,
  });
  const wanted = columns.data?.[kind] ?? [];
  const missing = (places: Record<string, number | undefined>) =>
    wanted.filter((c) => c.isRequired && places[c.name] === undefined);
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
      {columns.data && (
        <ChangeForm
          values={{ columns: upload.columns[kind] ?? {} }}
          change={(form) =>
            answer(
              api.POST('/api/imports', {
                body: {
                  uploadId: upload.uploadId,
                  fileName: upload.fileName,
                  kind,
                  columns: Object.fromEntries(
                    Object.entries(form.columns).filter(([, place]) => place !== undefined && place !== null),
                  ),
                },
              }),
            )
          }
          done={(job) => {
            begun(job.id);
            return undefined;
          }}
          act="Import"
          acts={<Button onClick={back}>Another file</Button>}
          isReady={(form) => missing(form.columns).length === 0}
          isSmall
        >
          {(form) => (
            <>
              <table className={ui.facts}>
                <thead>
                  <tr>
                    <th>Goes to</th>
                    <th>Column of the file</th>
                    <th>First row</th>
                  </tr>
                </thead>
                <tbody>
                  {wanted.map((column) => {
                    const place = form.columns[column.name];
                    return (
                      <tr key={column.name}>
                        <td title={column.says}>{column.isRequired ? <b>{column.name}</b> : column.name}</td>
                        <td>
                          <Form.Item name={['columns', column.name]} noStyle>
                            <Select
                              aria-label={`Column for ${column.name}`}
                              className={ui.medium}
                              allowClear
                              placeholder={column.isRequired ? 'choose' : 'none'}
                              {...(column.isRequired && place === undefined && { status: 'error' as const })}
                              options={upload.header.map((label, value) => ({
                                value,
                                label: label || `column ${value + 1}`,
                              }))}
                            />
                          </Form.Item>
                        </td>
                        <td className={`${ui.quiet} ${ui.cut} ${ui.atMost}`}>
                          {place === undefined ? '' : upload.sample[0]?.[place]}
                        </td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
              {missing(form.columns).length > 0 && (
                <p className={ui.clay}>
                  Choose the column that holds the{' '}
                  {missing(form.columns)
                    .map((c) => c.name)
                    .join(' and the ')}
                  .
                </p>
              )}
            </>
          )}
        </ChangeForm>
      )}
    </>
  );
}
