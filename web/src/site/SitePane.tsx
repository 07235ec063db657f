import { useQuery } from '@tanstack/react-query';
import { pageEvidence } from '../api/evidence';
import { ImportPane } from '../imports/ImportPane';
import { AboutList } from '../pieces/AboutList';
import { Failed, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { PagePane } from './PagePane';
import { PastePages } from './PastePages';
import { PerformancePane } from './PerformancePane';
import { ProjectForm } from './ProjectForm';
import { ScanPane } from './ScanPane';
import { ServicesPane } from './ServicesPane';
import { pageNames } from './usePages';
import ui from '../pieces/ui.module.css';

/** The panes of the stage that are opened by a button, a key or a link. */
export const sitePanes = [
  'scan',
  'import',
  'paste',
  'settings',
  'services',
  'performance',
  'bring performance',
] as const;

export type SitePaneName = (typeof sitePanes)[number];

/** What is shown at the right of the site's pages. */
export function SitePane({
  shown,
  open,
  host,
  list,
}: {
  shown: SitePaneName | undefined;
  open: (pane: SitePaneName | undefined) => void;
  host: string | undefined;
  list: ListState;
}) {
  const close = () => open(undefined);
  const selected = list.numeric('id');
  if (shown === 'services') return <ServicesPane close={close} />;
  if (shown === 'settings' || !host) return <ProjectForm close={close} />;
  switch (shown) {
    case 'import':
      return (
        <>
          <ImportPane kind="pages" close={close} />
          <button className={ui.chip} onClick={() => open('paste')}>
            or paste addresses, one a line
          </button>
        </>
      );
    case 'performance':
      return <PerformancePane bring={() => open('bring performance')} close={close} />;
    case 'bring performance':
      return <ImportPane kind="performance" close={() => open('performance')} />;
    case 'paste':
      return <PastePages close={close} />;
    case 'scan':
      return <ScanPane close={close} />;
    default:
      return selected !== undefined ? (
        <SelectedPage id={selected} host={host} />
      ) : (
        <AboutList of="pages" list={list} names={pageNames} />
      );
  }
}

function SelectedPage({ id, host }: { id: number; host: string }) {
  const page = useQuery(pageEvidence(id));
  if (page.isError) return <Failed error={page.error} retry={() => void page.refetch()} />;
  return page.data ? <PagePane detail={page.data} host={host} /> : <Reading />;
}
