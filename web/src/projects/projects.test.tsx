import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { press, Refusal, sent, serve, show, told, where, write } from '../testing';
import { BackupsPart } from './BackupsPart';
import { CopySettings } from './CopySettings';
import { ImportProjectPane } from './ImportProjectPane';
import { NewProjectPane } from './NewProjectPane';
import { ProjectPane } from './ProjectPane';
import { ProjectsScreen } from './ProjectsScreen';
import { chosen, titleOf, type Project } from './useProjects';

const project = (id: string, more: Partial<Project> = {}): Project => ({
  id,
  state: 'active',
  name: id.toUpperCase(),
  host: `${id}.example`,
  country: 'GB',
  language: 'en',
  stage: 'keywords',
  stageSays: '12 keywords',
  keywords: 12,
  changedAt: '2026-11-29T10:00:00Z',
  bytes: 1_000_000,
  jobs: 0,
  deletedAt: null,
  goneAt: null,
  fault: null,
  ...more,
});

const kayaks = project('kayaks');
const canoes = project('canoes', { country: 'DE', language: 'de', keywords: 3_000, bytes: 40_000_000 });
const old = project('old', { state: 'archived' });
const gone = project('gone~20261101T000000Z', { state: 'deleted', goneAt: '2026-12-01T00:00:00Z' });
const broken = project('broken', { fault: 'The project file is damaged.', stage: null, keywords: null });
const all = [kayaks, canoes, old, gone, broken];

/** jsdom goes nowhere. */
const went = vi.fn();
beforeEach(() => {
  vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(600);
  vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(900);
  HTMLElement.prototype.scrollTo = () => undefined;
  vi.stubGlobal('location', { ...window.location, assign: went, pathname: '/projects', origin: 'http://localhost' });
});
afterEach(() => {
  cleanup();
  went.mockClear();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe('which projects are shown', () => {
  const of = (more: Partial<Parameters<typeof chosen>[1]>) =>
    chosen(all, { state: 'active', search: undefined, sort: undefined, down: false, ...more }).map((p) => p.id);

  it('is by state, and by every typed word in name, site or market', () => {
    expect(of({})).toEqual(['kayaks', 'canoes', 'broken']);
    expect(of({ state: 'archived' })).toEqual(['old']);
    expect(of({ search: ' CANOES de ' })).toEqual(['canoes']);
    expect(of({ search: 'canoes gb' })).toEqual([]);
  });

  it('is in the order asked for, what is unknown last from the top', () => {
    expect(of({ sort: 'keywords', down: true })).toEqual(['canoes', 'kayaks', 'broken']);
    expect(of({ sort: 'name' })).toEqual(['broken', 'canoes', 'kayaks']);
    expect(of({ sort: 'nothing' })).toEqual(['kayaks', 'canoes', 'broken']);
  });

  it('calls a project by its name, its site, or what it is called on disk', () => {
    expect(titleOf(kayaks)).toBe('KAYAKS');
    expect(titleOf({ ...kayaks, name: '' })).toBe('kayaks.example');
    expect(titleOf({ ...kayaks, name: '', host: '' })).toBe('kayaks');
  });
});

describe('the list of projects', () => {
  const list = (at = '/projects') => {
    const asked = serve({ 'GET /api/projects': all, 'GET /api/projects/{project}/backups': [] });
    show(<ProjectsScreen />, { at });
    return asked;
  };

  it('has each with its stage, and says which cannot be opened', async () => {
    list();
    const grid = within(await screen.findByRole('grid', { name: 'projects' }));
    expect(grid.getAllByRole('row')).toHaveLength(4);
    const link = grid.getByRole('link', { name: 'CANOES' });
    expect(link.getAttribute('href')).toBe('/p/canoes/');
    expect(screen.getByText('cannot be opened')).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'BROKEN' })).toBeNull();
    expect(screen.getByRole('group', { name: 'Tally' }).textContent).toContain('3 projects');
    expect(screen.getByRole('group', { name: 'Tally' }).textContent).toContain('1 project cannot be opened');
  });

  it('opens the selected one with Enter, and shows it in the pane', async () => {
    list('/projects?id=kayaks');
    const grid = await screen.findByRole('grid', { name: 'projects' });
    expect(await screen.findByRole('heading', { name: 'KAYAKS' })).toBeTruthy();
    fireEvent.click(within(grid).getByText('kayaks.example'));
    fireEvent.keyDown(grid, { key: 'Enter' });
    expect(went).toHaveBeenCalledWith('/p/kayaks/');
  });

  it('has the archive and the trash beside it, with when a project is gone for good', async () => {
    list();
    await press(/archived 1/);
    expect(where()).toBe('/projects?state=archived');
    expect(await screen.findByText('OLD')).toBeTruthy();
    await press(/trash 1/);
    expect(await screen.findByText('Gone for good')).toBeTruthy();
    expect(screen.queryByRole('link', { name: /GONE/ })).toBeNull();
  });

  it('says what to do where there is none', async () => {
    serve({ 'GET /api/projects': [] });
    show(<ProjectsScreen />, { at: '/projects' });
    expect(await screen.findByText('No project is worked on')).toBeTruthy();
    expect(screen.getByText(/Nothing yet/)).toBeTruthy();
  });
});

describe('a project', () => {
  const shown = (of: Project, answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/projects/{project}/backups': [], ...answers });
    show(<ProjectPane project={of} projects={all} />, { at: `/projects?id=${of.id}` });
    return asked;
  };

  it('is archived, and taken back', async () => {
    const asked = shown(kayaks, { 'POST /api/projects/{project}/archive': { ...kayaks, state: 'archived' } });
    await press('Archive');
    await waitFor(() => expect(told()).toBe('Archived. Take it back whenever you need it.'));
    expect(sent(asked)).toEqual([
      expect.objectContaining({ what: 'POST /api/projects/{project}/archive', path: { project: 'kayaks' } }),
    ]);
    cleanup();
    shown(old, { 'POST /api/projects/{project}/take-back': { ...old, id: 'old-2', state: 'active' } });
    await press('Take back');
    await waitFor(() => expect(where()).toBe('/projects?id=old-2'));
  });

  it('goes to the trash at once, and from there for good only when that is confirmed', async () => {
    const asked = shown(kayaks);
    await press('Delete');
    await waitFor(() => expect(told()).toBe('In the trash now, for 30 days.'));
    await waitFor(() => expect(where()).toBe('/projects'));
    cleanup();
    const again = shown(gone);
    await press('Delete for good');
    expect(sent(again)).toEqual([]);
    fireEvent.click((await screen.findAllByRole('button', { name: 'Delete for good' })).at(-1)!);
    await waitFor(() => expect(told()).toBe('Deleted for good.'));
    expect(sent(asked).map((a) => a.what)).toEqual(['DELETE /api/projects/{project}']);
    expect(sent(again).map((a) => a.what)).toEqual(['DELETE /api/projects/{project}']);
  });

  it('that cannot be opened says why, and offers its backups and nothing that would need it', async () => {
    shown(broken);
    expect((await screen.findByRole('alert')).textContent).toBe('The project file is damaged.');
    expect(screen.getByRole('button', { name: 'Back up now' })).toBeTruthy();
    expect(screen.queryByText('Duplicate')).toBeNull();
    expect(screen.queryByRole('link', { name: 'Export as one file' })).toBeNull();
  });

  it('is duplicated under a name of its own', async () => {
    const asked = shown(kayaks, { 'POST /api/projects/{project}/duplicate': project('second') });
    write('Name of the copy', 'Second');
    fireEvent.click(screen.getByRole('radio', { name: 'its settings alone' }));
    await press('Duplicate');
    await waitFor(() => expect(where()).toBe('/projects?id=second'));
    expect(sent(asked)[0]!.body).toEqual({ name: 'Second', withData: false });
  });

  it('takes settings over from another that can be opened', async () => {
    const asked = serve({});
    show(<CopySettings project={kayaks} projects={all} />);
    fireEvent.click(screen.getByRole('checkbox', { name: 'services, without their keys' }));
    await press('Copy settings');
    await waitFor(() => expect(told()).toBe('Copied. It can be undone in the project.'));
    expect(sent(asked)[0]!.body).toEqual({ from: 'canoes', parts: ['intents', 'ignoreLists', 'effort', 'titles'] });
    cleanup();
    show(<CopySettings project={kayaks} projects={[kayaks, old, broken]} />);
    expect(screen.queryByText('Copy settings')).toBeNull();
  });
});

describe('backups', () => {
  const daily = { name: 'a-daily.db', kind: 'daily', madeAt: '2026-11-28T10:00:00Z', bytes: 2_500_000 };
  const damaged = { name: 'b-damaged.db', kind: 'damaged', madeAt: '2026-11-29T10:00:00Z', bytes: 900 };

  it('are restored when that is confirmed, and how to undo that is said', async () => {
    const asked = serve({
      'GET /api/projects/{project}/backups': [damaged, daily],
      'POST /api/projects/{project}/backups/{backup}/restore': {
        project: kayaks,
        before: { ...daily, kind: 'restore', madeAt: '2026-11-30T10:00:00Z' },
      },
    });
    show(<BackupsPart project={kayaks} />);
    const rows = await within(await screen.findByRole('table', { name: 'Backups' })).findAllByRole('row');
    expect(rows[1]!.textContent).toContain('daily');
    expect(rows[1]!.textContent).toContain('2.5 MB');
    // What is damaged is kept to be looked at, not to be restored.
    expect(within(rows[0]!).queryByRole('button', { name: 'Restore' })).toBeNull();
    fireEvent.click(within(rows[1]!).getByRole('button', { name: 'Restore' }));
    expect(sent(asked)).toEqual([]);
    fireEvent.click((await screen.findAllByRole('button', { name: 'Restore' })).at(-1)!);
    await waitFor(() => expect(told()).toMatch(/^Restored\. Restore the backup of 30 Nov 2026, .* to undo that\.$/));
    expect(sent(asked)[0]!.path).toEqual({ project: 'kayaks', backup: 'a-daily.db' });
  });

  it('are made and deleted, and a refusal is told', async () => {
    const asked = serve({
      'GET /api/projects/{project}/backups': [daily],
      'POST /api/projects/{project}/backups': daily,
      'DELETE /api/projects/{project}/backups/{backup}': new Refusal(404, 'There is no backup “a-daily.db”.'),
    });
    show(<BackupsPart project={kayaks} />);
    await screen.findByRole('table', { name: 'Backups' });
    await press('Back up now');
    await waitFor(() => expect(told()).toBe('Backed up.'));
    await press(/^Delete the backup of 28 Nov 2026/);
    await waitFor(() => expect(told()).toBe('There is no backup “a-daily.db”.'));
    expect(sent(asked).map((a) => a.what)).toEqual([
      'POST /api/projects/{project}/backups',
      'DELETE /api/projects/{project}/backups/{backup}',
    ]);
  });
});

describe('a new project', () => {
  it('is opened at once, with the settings of another', async () => {
    const asked = serve({ 'POST /api/projects': project('new') });
    show(<NewProjectPane projects={all} close={() => undefined} />);
    write(/^Domain/, 'new.example');
    write('Country, two letters', 'DE');
    await press('Create and open');
    await waitFor(() => expect(went).toHaveBeenCalledWith('/p/new/'));
    expect(sent(asked)[0]!.body).toEqual({
      host: 'new.example',
      name: '',
      country: 'DE',
      language: 'en',
      settingsOf: null,
      parts: null,
    });
  });

  it('says beside the field what is wrong', async () => {
    serve({ 'POST /api/projects': new Refusal(400, "'x' is not a domain.", 'host') });
    show(<NewProjectPane projects={[]} close={() => undefined} />);
    write(/^Domain/, 'x');
    await press('Create and open');
    expect(await screen.findByText("'x' is not a domain.")).toBeTruthy();
    expect(went).not.toHaveBeenCalled();
  });

  it('comes from a file, or it is said why it does not', async () => {
    const file = new File(['x'], 'kayaks.db');
    let refuses = true;
    const asked = serve({
      'POST /api/projects/import': () =>
        refuses ? new Refusal(400, 'This is no file of a project.', 'file') : project('brought'),
    });
    show(<ImportProjectPane close={() => undefined} />, { at: '/projects?pane=import' });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Import' }).disabled).toBe(true);
    fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [file] } });
    await press('Import');
    expect((await screen.findByRole('alert')).textContent).toBe('This is no file of a project.');
    refuses = false;
    write(/^Name/, 'Brought');
    await press('Import');
    await waitFor(() => expect(where()).toBe('/projects?id=brought'));
    expect(asked.at(-1)).toMatchObject({ query: { name: 'Brought' }, body: file });
  });
});
