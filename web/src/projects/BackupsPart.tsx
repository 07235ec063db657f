import { useQuery } from '@tanstack/react-query';
import { Button, Popconfirm } from 'antd';
import { answer, listApi, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { moment, size } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import type { Project } from './useProjects';
import ui from '../pieces/ui.module.css';
import styles from './projects.module.css';

const says: Record<Schema['BackupKind'], string> = {
  daily: 'daily',
  manual: 'on demand',
  upgrade: 'before an upgrade',
  restore: 'before a restore',
  damaged: 'the damaged file itself',
};

/** The backups of a project; restoring one keeps what was there before, so that it can be undone. */
export function BackupsPart({ project: { id, state } }: { project: Project }) {
  const path = { project: id };
  const backups = useQuery({
    queryKey: keyOf('backups', id),
    queryFn: () => answer(listApi.GET('/api/projects/{project}/backups', { params: { path } })),
  });
  const make = useChange(
    () => answer(listApi.POST('/api/projects/{project}/backups', { params: { path } })),
    () => 'Backed up.',
  );
  const restore = useChange(
    (backup: string) =>
      answer(
        listApi.POST('/api/projects/{project}/backups/{backup}/restore', { params: { path: { ...path, backup } } }),
      ),
    ({ before }) => (before ? `Restored. Restore the backup of ${moment(before.madeAt)} to undo that.` : 'Restored.'),
  );
  const remove = useChange(
    (backup: string) =>
      answer(listApi.DELETE('/api/projects/{project}/backups/{backup}', { params: { path: { ...path, backup } } })),
    () => 'The backup is deleted.',
  );
  const isBusy = make.isPending || restore.isPending || remove.isPending;
  return (
    <>
      <hr />
      <h3>Backups</h3>
      {backups.isError ? (
        <Failed error={backups.error} retry={() => void backups.refetch()} />
      ) : !backups.data ? (
        <Reading />
      ) : backups.data.length === 0 ? (
        <p>None yet. One is made on each day on which the project is used, and seven are kept.</p>
      ) : (
        <table className={ui.facts} aria-label="Backups">
          <tbody>
            {backups.data.map((backup) => (
              <tr key={backup.name}>
                <td>
                  {moment(backup.madeAt)}
                  <br />
                  <span className={ui.second}>{says[backup.kind]}</span>
                </td>
                <td className={ui.num}>{size(backup.bytes)}</td>
                <td className={`${ui.num} ${styles.acts}`}>
                  <a href={`/api/projects/${encodeURIComponent(id)}/backups/${encodeURIComponent(backup.name)}`}>
                    Download
                  </a>
                  {state === 'active' && backup.kind !== 'damaged' && (
                    <Popconfirm
                      title="Restore this backup?"
                      description="What is there now is backed up first, so this can be undone."
                      okText="Restore"
                      onConfirm={() => restore.mutate(backup.name)}
                    >
                      <button className={ui.chip} disabled={isBusy}>
                        Restore
                      </button>
                    </Popconfirm>
                  )}
                  <button
                    className={`${ui.chip} ${ui.quiet}`}
                    disabled={isBusy}
                    aria-label={`Delete the backup of ${moment(backup.madeAt)}`}
                    onClick={() => remove.mutate(backup.name)}
                  >
                    Delete
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className={ui.acts}>
        <Button loading={make.isPending} disabled={isBusy} onClick={() => make.mutate(undefined)}>
          Back up now
        </Button>
      </div>
    </>
  );
}
