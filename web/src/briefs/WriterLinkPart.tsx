import { Button } from 'antd';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { day } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** The link by which a writer sees the brief and nothing else. */
export function WriterLinkPart({ view }: { view: Schema['BriefView'] }) {
  const { link, row } = view;
  const path = { path: { id: row.id } };
  const make = useChange(
    () => answer(api.PUT('/api/briefs/{id}/link', { params: path, body: { days: 30 } })),
    () => 'The link works for 30 days.',
  );
  const takeBack = useChange(
    () => answer(api.DELETE('/api/briefs/{id}/link', { params: path })),
    () => 'The link no longer works.',
  );
  if (!link)
    return (
      <>
        <p>A writer who has the link can read this brief and check a draft against it, and reaches nothing else.</p>
        <div className={ui.acts}>
          <Button loading={make.isPending} onClick={() => make.mutate(undefined)}>
            Make a link for 30 days
          </Button>
        </div>
      </>
    );
  const url = `${window.location.origin}${fileUrl(link.path)}`;
  return (
    <>
      <p className={ui.wrap}>
        <a href={fileUrl(link.path)} target="_blank" rel="noreferrer">
          {url}
        </a>
      </p>
      <p className={ui.second}>
        It works until {day(link.expiresAt)}.{' '}
        {link.isLocal
          ? 'Jade Orchard can be reached from this machine only: to let others open the link, start it with --listen and an address of this machine.'
          : 'Others open it at the address that Jade Orchard was told to listen at.'}
      </p>
      <div className={ui.acts}>
        <Button onClick={() => void navigator.clipboard.writeText(url)}>Copy</Button>
        <Button loading={make.isPending} onClick={() => make.mutate(undefined)}>
          Replace it
        </Button>
        <Button loading={takeBack.isPending} onClick={() => takeBack.mutate(undefined)}>
          Take it back
        </Button>
      </div>
    </>
  );
}
