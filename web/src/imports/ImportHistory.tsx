import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { fileUrl } from '../api/base';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { RejectedRows } from '../pieces/RejectedRows';
import ui from '../pieces/ui.module.css';

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
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>File</th>
            <th>What came of it</th>
          </tr>
        </thead>
        <tbody>
          {imports.data.map((row) => (
            <tr key={row.id}>
              <td className={ui.wrap}>{row.fileName}</td>
              <td>
                {row.message}{' '}
                {row.rowsRejected > 0 && (
                  <button className={ui.chip} onClick={() => setOpen(open === row.id ? undefined : row.id)}>
                    {open === row.id ? 'hide them' : 'which ones?'}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {open !== undefined && rejected.data && (
        <RejectedRows href={fileUrl(`/api/imports/${open}/rejected.csv`)} rows={rejected.data} />
      )}
    </>
  );
}
