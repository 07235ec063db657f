import { Drawer } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, NavLink, Navigate, Route, Routes, useLocation, useNavigate } from 'react-router';
import { useActiveJobs, useJobEvents, useProject, useReplay } from '../api/hooks';
import type { Schema } from '../api/client';
import { answer, api } from '../api/client';
import { ClustersScreen } from '../clusters/ClustersScreen';
import { ConflictScreen } from '../findings/ConflictScreen';
import { FindingsScreen } from '../findings/FindingsScreen';
import { KeywordsScreen } from '../keywords/KeywordsScreen';
import { OverviewScreen } from '../overview/OverviewScreen';
import { PageMapScreen } from '../pagemap/PageMapScreen';
import { Failed, Reading } from '../pieces/States';
import { useListState } from '../pieces/useListState';
import { BriefsScreen } from '../briefs/BriefsScreen';
import { RefreshScreen } from '../refresh/RefreshScreen';
import { PlanScreen } from '../plan/PlanScreen';
import { ResultsScreen } from '../results/ResultsScreen';
import { SiteScreen } from '../site/SiteScreen';
import { number, timeLeft } from '../pieces/format';
import { HistoryList } from './History';
import { everywhere, focusList, isWriting, KeysContext, type KeyHelp } from './keys';

/** The stages in the order in which planners work. */
const stages = [
  { path: 'site', title: 'Site' },
  { path: 'keywords', title: 'Keywords' },
  { path: 'results', title: 'Results' },
  { path: 'clusters', title: 'Clusters' },
  { path: 'page-map', title: 'Page map' },
  { path: 'findings', title: 'Findings' },
  { path: 'plan', title: 'Plan' },
  { path: 'briefs', title: 'Briefs' },
  { path: 'refresh', title: 'Refresh' },
];

const marketNames = { GB: 'United Kingdom', US: 'United States', IE: 'Ireland', DE: 'Germany', FR: 'France' };
const languageNames = new Intl.DisplayNames(['en'], { type: 'language' });

/** The frame of every screen: top bar, track, and the keys that work everywhere. */
export function Shell() {
  useJobEvents();
  const project = useProject();
  const undo = useReplay('undo');
  const redo = useReplay('redo');
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [keys, setKeys] = useState<KeyHelp[]>([]);
  const [helpShown, setHelpShown] = useState(false);
  const [historyShown, setHistoryShown] = useState(false);
  const search = useRef<HTMLInputElement>(null);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !isWriting(event.target)) {
        event.preventDefault();
        (event.shiftKey ? redo : undo).mutate(undefined);
        return;
      }
      if (event.key === 'Escape' && event.target === search.current) focusList();
      if (isWriting(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === '/') {
        event.preventDefault();
        search.current?.focus();
        search.current?.select();
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

  if (project.isError && !project.data) return <Failed error={project.error} retry={() => void project.refetch()} />;
  if (!project.data) return <Reading />;
  const { name, host, country, language } = project.data.project;
  return (
    <KeysContext value={setKeys}>
      <div className="shell">
        <header className="top">
          <Link className="name" to="/" title="Where the site stands">
            {name || 'New project'}
          </Link>
          <span className="soft">
            {host
              ? `${marketNames[country as keyof typeof marketNames] ?? country} · ${languageNames.of(language)}`
              : 'no site yet'}
          </span>
          <span className="gap" />
          <JobsLine />
          <FindBox input={search} />
          <button
            disabled={!project.data.undo || undo.isPending}
            title={project.data.undo ? `Undo: ${project.data.undo}` : 'Nothing to undo'}
            onClick={() => undo.mutate(undefined)}
          >
            Undo
          </button>
          <button
            disabled={!project.data.redo || redo.isPending}
            title={project.data.redo ? `Redo: ${project.data.redo}` : 'Nothing to redo'}
            onClick={() => redo.mutate(undefined)}
          >
            Redo
          </button>
          <button title="History" onClick={() => setHistoryShown(true)}>
            History
          </button>
          <button aria-label="Keys of this screen" onClick={() => setHelpShown(true)}>
            <kbd>?</kbd>
          </button>
        </header>
        {project.data.damage && (
          <p className="damage" role="alert">
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
        <KeyTable title="On this screen" keys={keys} />
        <KeyTable title="Everywhere" keys={everywhere} />
      </Drawer>
    </KeysContext>
  );
}

function KeyTable({ title, keys }: { title: string; keys: KeyHelp[] }) {
  if (keys.length === 0) return null;
  return (
    <>
      <h2>{title}</h2>
      <table className="facts" style={{ marginBottom: 18 }}>
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

function Track({ stages: views }: { stages: Schema['TrackStage'][] }) {
  return (
    <nav className="track" aria-label="Stages">
      {stages.map(({ path, title }) => {
        const view = views.find((v) => v.stage === path);
        return (
          <NavLink
            key={path}
            to={`/${path}`}
            className={({ isActive }) => `${isActive ? 'on' : ''} ${view?.warns ? 'warns' : ''}`}
          >
            <b>{title}</b>
            <i className="cut">{view?.says}</i>
            <span className="done" style={{ width: `${(view?.share ?? 0) * 100}%` }} />
          </NavLink>
        );
      })}
    </nav>
  );
}

/** Searches the list of the screen. */
function FindBox({ input }: { input: React.RefObject<HTMLInputElement | null> }) {
  const list = useListState();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const given = list.text('search') ?? '';
  const [text, setText] = useState(given);
  const [shown, setShown] = useState(given);
  if (shown !== given) {
    setShown(given);
    setText(given);
  }
  useEffect(() => {
    if (text === given) return;
    const timer = setTimeout(() => list.set({ search: text || undefined }), 200);
    return () => clearTimeout(timer);
  });
  if (pathname === '/') return null;
  const which = (phrase: string) => void navigate(`/page-map?phrase=${encodeURIComponent(phrase)}`);
  return (
    <label className="find">
      <input
        ref={input}
        aria-label="Search this list"
        placeholder="Search this list"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && event.altKey && text.trim().length > 2) which(text.trim());
          else if (event.key === 'Enter') focusList();
        }}
      />
      {text.trim().length > 2 ? (
        <button
          type="button"
          className="which"
          title="Which of our pages is this phrase for? Alt+Enter"
          onClick={() => which(text.trim())}
        >
          which page?
        </button>
      ) : (
        <kbd>/</kbd>
      )}
    </label>
  );
}

/** What is under way, with its count and a way to stop it. */
function JobsLine() {
  const jobs = useActiveJobs();
  const job = jobs[0];
  if (!job) return null;
  const progress = job.progress;
  return (
    <span className="soft cut" role="status" title={progress?.phase}>
      {job.label}
      {progress && progress.total > 0 && ` · ${number(progress.done)} of ${number(progress.total)}`}
      {progress?.secondsLeft != null && ` · ${timeLeft(progress.secondsLeft)}`}
      {jobs.length > 1 && ` · ${jobs.length - 1} waiting`}{' '}
      <button onClick={() => void answer(api.POST('/api/jobs/{id}/stop', { params: { path: { id: job.id } } }))}>
        Stop
      </button>
    </span>
  );
}
