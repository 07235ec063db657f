import { Button, Drawer } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, Navigate, Route, Routes, useLocation, useNavigate } from 'react-router';
import { useProject, useReplay, useServerEvents } from '../api/hooks';
import { ClustersScreen } from '../clusters/ClustersScreen';
import { ConflictScreen } from '../findings/ConflictScreen';
import { FindingsScreen } from '../findings/FindingsScreen';
import { KeywordsScreen } from '../keywords/KeywordsScreen';
import { OverviewScreen } from '../overview/OverviewScreen';
import { PageMapScreen } from '../pagemap/PageMapScreen';
import { market } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { BriefsScreen } from '../briefs/BriefsScreen';
import { RefreshScreen } from '../refresh/RefreshScreen';
import { PlanScreen } from '../plan/PlanScreen';
import { ResultsScreen } from '../results/ResultsScreen';
import { SiteScreen } from '../site/SiteScreen';
import { FindBox } from './FindBox';
import { HistoryList } from './History';
import { JobsMenu } from './JobsMenu';
import { everywhere, focusList, isWriting, KeysContext, type KeyHelp } from './keys';
import { Palette } from './Palette';
import { stages } from './stages';
import { Track } from './Track';
import { ViewMenu } from './ViewMenu';
import { useCanChange } from '../team/session';
import { OthersLine } from '../team/OthersLine';
import { UserMenu } from '../team/UserMenu';
import styles from './shell.module.css';
import ui from '../pieces/ui.module.css';

/** The frame of every screen: top bar, track, and the keys that work everywhere. */
export function Shell() {
  useServerEvents();
  const project = useProject();
  const undo = useReplay('undo');
  const redo = useReplay('redo');
  const canChange = useCanChange();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [keys, setKeys] = useState<KeyHelp[]>([]);
  const [helpShown, setHelpShown] = useState(false);
  const [historyShown, setHistoryShown] = useState(false);
  const [paletteShown, setPaletteShown] = useState(false);
  const search = useRef<HTMLInputElement>(null);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !isWriting(event.target)) {
        event.preventDefault();
        (event.shiftKey ? redo : undo).mutate(undefined);
        return;
      }
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        setPaletteShown(true);
        return;
      }
      if (event.key === 'Escape' && event.target === search.current) focusList();
      if (isWriting(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === '/') {
        event.preventDefault();
        search.current?.focus();
        search.current?.select();
      } else if (event.key === 'k') {
        event.preventDefault();
        setPaletteShown(true);
      } else if (event.key === '?') setHelpShown((shown) => !shown);
      else if (event.key === '[' || event.key === ']') {
        const at = stages.findIndex((s) => pathname.startsWith(`/${s.path}`));
        const next = stages[event.key === ']' ? at + 1 : Math.max(0, at - 1)];
        if (next) void navigate(`/${next.path}`);
      } else if (event.key === 'Escape') focusList();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [navigate, pathname, redo, undo]);

  if (project.isError && !project.data)
    return (
      <Failed error={project.error} retry={() => void project.refetch()}>
        <Button href="/projects">All projects</Button>
      </Failed>
    );
  if (!project.data) return <Reading />;
  const { name, host, country, language } = project.data.project;
  return (
    <KeysContext value={setKeys}>
      <div className={styles.shell}>
        <header className={styles.top}>
          <Link className={styles.name} to="/" title="Where the site stands">
            {name || 'New project'}
          </Link>
          <span className={styles.soft}>{host ? market(country, language) : 'no site yet'}</span>
          <a className={styles.soft} href="/projects" title="All projects, their backups, and new ones">
            Projects
          </a>
          <span className={ui.gap} />
          <OthersLine />
          <JobsMenu />
          <FindBox input={search} />
          <button
            disabled={!project.data.undo || !canChange}
            title={
              project.data.undo ? `Undo: ${byWhom(project.data.undo, project.data.undoAuthor)}` : 'Nothing to undo'
            }
            onClick={() => undo.mutate(undefined)}
          >
            Undo
          </button>
          <button
            disabled={!project.data.redo || !canChange}
            title={
              project.data.redo ? `Redo: ${byWhom(project.data.redo, project.data.redoAuthor)}` : 'Nothing to redo'
            }
            onClick={() => redo.mutate(undefined)}
          >
            Redo
          </button>
          <button title="Go to or do anything: k" onClick={() => setPaletteShown(true)}>
            Go to <kbd>k</kbd>
          </button>
          <ViewMenu />
          <button title="History" onClick={() => setHistoryShown(true)}>
            History
          </button>
          <button aria-label="Keys of this screen" onClick={() => setHelpShown(true)}>
            <kbd>?</kbd>
          </button>
          <UserMenu />
        </header>
        {project.data.damage && (
          <p className={styles.damage} role="alert">
            {project.data.damage}
          </p>
        )}
        <Track stages={project.data.track} />
        <Routes>
          <Route index element={<OverviewScreen />} />
          <Route path="site" element={<SiteScreen />} />
          <Route path="keywords" element={<KeywordsScreen />} />
          <Route path="results" element={<ResultsScreen />} />
          <Route path="clusters" element={<ClustersScreen />} />
          <Route path="page-map" element={<PageMapScreen />} />
          <Route path="findings" element={<FindingsScreen />} />
          <Route path="findings/conflict" element={<ConflictScreen />} />
          <Route path="plan" element={<PlanScreen />} />
          <Route path="briefs" element={<BriefsScreen />} />
          <Route path="refresh" element={<RefreshScreen />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </div>
      {paletteShown && (
        <Palette
          own={[
            { kind: 'Action', name: 'Undo', detail: project.data.undo ?? undefined, act: () => undo.mutate(undefined) },
            { kind: 'Action', name: 'Redo', detail: project.data.redo ?? undefined, act: () => redo.mutate(undefined) },
            { kind: 'Action', name: 'History', act: () => setHistoryShown(true) },
            { kind: 'Action', name: 'All projects', act: () => window.location.assign('/projects') },
            { kind: 'Action', name: 'Keys of this screen', act: () => setHelpShown(true) },
          ]}
          close={() => {
            setPaletteShown(false);
            setTimeout(focusList);
          }}
        />
      )}
      <Drawer title="History" open={historyShown} onClose={() => setHistoryShown(false)} size={420}>
        {historyShown && <HistoryList />}
      </Drawer>
      <Drawer
        title="Keys"
        open={helpShown}
        onClose={() => setHelpShown(false)}
        size={380}
        afterOpenChange={(open) => !open && focusList()}
      >
        <p>
          <a href="/guide" target="_blank" rel="noreferrer">
            The guide
          </a>{' '}
          begins with your first hour.
        </p>
        <KeyTable title="On this screen" keys={keys} />
        <KeyTable title="Everywhere" keys={everywhere} />
      </Drawer>
    </KeysContext>
  );
}

/** A change, with who made it where that is known. */
const byWhom = (label: string, author: string) => (author ? `${label} (${author})` : label);

function KeyTable({ title, keys }: { title: string; keys: KeyHelp[] }) {
  if (keys.length === 0) return null;
  return (
    <>
      <h2>{title}</h2>
      <table className={ui.facts}>
        <tbody>
          {keys.map((k) => (
            <tr key={k.keys}>
              <td>
                <kbd>{k.keys}</kbd>
              </td>
              <td>{k.does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
