import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { answer, api, windowId } from '../api/client';
import { HistoryList } from '../app/History';
import { ChangeForm } from '../pieces/ChangeForm';
import { isDisabled, press, Refusal, sent, serve, show, told, write } from '../testing';
import { tellOfOthers } from './others';
import { OthersLine } from './OthersLine';
import { session, setSession, type Session } from './session';
import { SignInAgain, SignInScreen } from './SignIn';
import { TeamPane } from './TeamPane';
import { UserMenu } from './UserMenu';
import { WriterScreen } from './WriterScreen';

const as = (name: string, role: 'planner' | 'writer' | 'reader'): Session => ({
  hasSignIn: true,
  user: { name, role },
  token: 'abc',
});
const nobody: Session = { hasSignIn: true, user: null, token: null };

/** Sends a request as in a browser, to what answers it here. */
const real = (fetch: (request: Request) => Response) => ({
  baseUrl: 'http://localhost',
  fetch: (request: Request) => Promise.resolve(fetch(request)),
});

const reload = vi.fn();
const went = vi.fn();
beforeEach(() => {
  vi.stubGlobal('location', { ...window.location, reload, assign: went });
});
afterEach(() => {
  cleanup();
  setSession({ hasSignIn: false, user: null, token: null });
  tellOfOthers(undefined);
  reload.mockClear();
  went.mockClear();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe('signing in', () => {
  it('reloads the page with the session', async () => {
    setSession(nobody);
    const asked = serve({ 'POST /api/session': as('Ada', 'planner') });
    show(<SignInScreen />);
    write('Name', 'Ada');
    write('Password', 'four words and some');
    await press('Sign in');
    await waitFor(() => expect(reload).toHaveBeenCalled());
    expect(sent(asked)[0]!.body).toEqual({ name: 'Ada', password: 'four words and some' });
    expect(session().user?.name).toBe('Ada');
  });

  it('says what is wrong beside the form, since there is no tally bar', async () => {
    serve({ 'POST /api/session': new Refusal(429, 'Too many wrong passwords. Try again in 2 minutes.') });
    show(<SignInScreen />);
    write('Name', 'Ada');
    write('Password', 'a guess');
    await press('Sign in');
    expect((await screen.findByRole('alert')).textContent).toContain('Try again in 2 minutes');
    expect(reload).not.toHaveBeenCalled();
  });

  it('is asked for again where the session has ended, and what was written stays', async () => {
    setSession(as('Ada', 'planner'));
    serve({ 'POST /api/session': as('Ada', 'planner') });
    const done = vi.fn();
    show(
      <>
        <input aria-label="Note" defaultValue="half a sentence" />
        <SignInAgain name="Ada" done={done} />
      </>,
    );
    expect(screen.queryByText(/Your session has ended/)).toBeNull();
    // Any request tells it.
    vi.restoreAllMocks();
    await answer(
      api.GET(
        '/api/history',
        real(() => new Response('{}', { status: 401 })),
      ),
    ).catch(() => undefined);
    expect(await screen.findByText(/Your session has ended/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Note').value).toBe('half a sentence');
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Ada');
    serve({ 'POST /api/session': as('Ada', 'planner') });
    write('Password', 'four words and some');
    await press('Sign in');
    await waitFor(() => expect(done).toHaveBeenCalled());
  });
});

describe('a request', () => {
  it('that changes something names the window and carries the token; one that reads does neither', async () => {
    setSession(as('Ada', 'planner'));
    const requests: Request[] = [];
    const network = real((request) => {
      requests.push(request);
      return new Response('null', { headers: { 'Content-Type': 'application/json' } });
    });
    await answer(api.POST('/api/undo', network));
    await answer(api.GET('/api/history', network));
    const headers = requests.map((r) => [r.headers.get('Jade-Token'), r.headers.get('Jade-Window')]);
    expect(headers).toEqual([
      ['abc', windowId],
      [null, null],
    ]);
  });

  it('whose token is outdated has the session read again', async () => {
    setSession(as('Ada', 'planner'));
    serve({ 'GET /api/session': { ...as('Ada', 'planner'), token: 'new' } });
    const refused = {
      error: { type: '/problems/token', detail: 'Load it again.' },
      response: new Response(null, { status: 400 }),
    };
    await expect(answer(Promise.resolve(refused))).rejects.toThrow('Load it again.');
    await waitFor(() => expect(session().token).toBe('new'));
  });
});

describe('a reader', () => {
  const form = (isRead: boolean) => (
    <ChangeForm values={{ text: 'x' }} change={() => Promise.resolve('')} act="Save" isRead={isRead} />
  );

  it('cannot send what changes something, and is told why', () => {
    setSession(as('Rea', 'reader'));
    show(form(false));
    expect(isDisabled('Save')).toBe(true);
    expect(screen.getByRole('button', { name: 'Save' }).title).toContain('a planner can change it');
  });

  it('can ask', () => {
    setSession(as('Rea', 'reader'));
    show(form(true));
    expect(isDisabled('Save')).toBe(false);
  });

  it('is what a planner is not, nor who needs not sign in', () => {
    setSession(as('Ada', 'planner'));
    show(form(false));
    expect(isDisabled('Save')).toBe(false);
  });
});

describe('who is signed in', () => {
  it('is not shown where nobody signs in', () => {
    show(<UserMenu />);
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('can choose another password, and gets the token of the new session', async () => {
    setSession(as('Ada', 'planner'));
    const asked = serve({ 'PUT /api/session/password': { ...as('Ada', 'planner'), token: 'new' } });
    show(<UserMenu />);
    await press('Signed in as Ada');
    write('Current password', 'four words and some');
    write('New password', 'another four words');
    await press('Change password');
    await waitFor(() => expect(session().token).toBe('new'));
    expect(sent(asked)[0]!.body).toEqual({ current: 'four words and some', password: 'another four words' });
  });

  it('signs out', async () => {
    setSession(as('Rea', 'reader'));
    const asked = serve({});
    show(<UserMenu />);
    expect(screen.getByRole('button', { name: 'Signed in as Rea' }).textContent).toContain('(reader)');
    await press('Signed in as Rea');
    await press('Sign out');
    await waitFor(() => expect(went).toHaveBeenCalledWith('/'));
    expect(sent(asked).map((a) => a.what)).toEqual(['DELETE /api/session']);
  });
});

describe('the team', () => {
  const users = [
    { id: 1, name: 'Ada', role: 'planner', addedAt: '2026-11-30T09:00:00Z', signedInAt: '2026-11-30T10:00:00Z' },
    { id: 2, name: 'Wim', role: 'writer', addedAt: '2026-11-30T09:00:00Z', signedInAt: null },
  ];

  it('is listed with roles, and somebody is added', async () => {
    const asked = serve({
      'GET /api/team': { users, isOpen: true },
      'POST /api/team': { ...users[1], id: 3, name: 'Bo' },
    });
    show(<TeamPane close={() => undefined} />);
    expect(await screen.findByText('has never signed in')).toBeTruthy();
    write('Name', 'Bo');
    fireEvent.click(screen.getByLabelText(/^reader/));
    write('Password', 'four words and some');
    await press('Add');
    await waitFor(() => expect(told()).toContain('Bo can sign in'));
    expect(sent(asked)[0]!.body).toEqual({ name: 'Bo', role: 'reader', password: 'four words and some' });
    expect(asked.filter((a) => a.what === 'GET /api/team').length).toBeGreaterThan(1);
  });

  it('begins with a planner, and says what it takes to be reached', async () => {
    serve({ 'GET /api/team': { users: [], isOpen: false } });
    show(<TeamPane close={() => undefined} />);
    expect(await screen.findByText(/Start it with --listen/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>(/^planner/).checked).toBe(true);
  });

  it('changes only what was changed of somebody', async () => {
    const asked = serve({ 'GET /api/team': { users, isOpen: true } });
    show(<TeamPane close={() => undefined} />);
    await press('Wim');
    write('New password', 'another four words');
    await press('Save');
    await waitFor(() => expect(told()).toContain('Wim has to sign in again'));
    expect(sent(asked)[0]).toMatchObject({ path: { id: 2 }, body: { role: null, password: 'another four words' } });
  });

  it('removes somebody after asking, and says why the last planner stays', async () => {
    serve({
      'GET /api/team': { users, isOpen: true },
      'DELETE /api/team/{id}': new Refusal(409, 'This is the only planner.'),
    });
    show(<TeamPane close={() => undefined} />);
    await press('Ada');
    await press('Remove');
    const ask = await screen.findByRole('tooltip');
    fireEvent.click(within(ask).getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(told()).toBe('This is the only planner.'));
  });
});

describe('a writer', () => {
  it('sees their briefs, with where each is read', async () => {
    setSession(as('Wim', 'writer'));
    const brief = {
      project: 'kayaks',
      projectName: 'Kayaks',
      id: 4,
      primary: 'dry suit',
      url: '/suits',
      isNew: true,
      words: 1200,
      state: 'sent',
      due: '2026-12-11',
      page: '/p/kayaks/my-briefs/4',
    };
    serve({
      'GET /api/my-briefs': [brief, { ...brief, id: 5, page: '/p/kayaks/my-briefs/5', words: null, due: null }],
    });
    show(<WriterScreen />);
    const links = await screen.findAllByRole('link', { name: 'dry suit' });
    expect(links.map((l) => l.getAttribute('href'))).toEqual(['/p/kayaks/my-briefs/4', '/p/kayaks/my-briefs/5']);
    expect(screen.getByText('1,200')).toBeTruthy();
  });

  it('is told where there is none', async () => {
    serve({ 'GET /api/my-briefs': [] });
    show(<WriterScreen />);
    expect(await screen.findByText('No brief for you yet')).toBeTruthy();
  });
});

describe('what others change', () => {
  it('is said by name, or by window where nobody signs in', async () => {
    show(<OthersLine />);
    const line = () => screen.getByLabelText('Changes of others').textContent;
    tellOfOthers({ author: '', says: 'Change a brief' });
    await waitFor(() => expect(line()).toBe('In another window: Change a brief'));
    tellOfOthers({ author: 'Bo', says: 'Undone: Change a brief' });
    await waitFor(() => expect(line()).toBe('Bo: Undone: Change a brief'));
    setSession(as('Bo', 'planner'));
    await waitFor(() => expect(line()).toBe('You, in another window: Undone: Change a brief'));
  });

  it('is in the history with who undid it', async () => {
    const step = {
      id: 1,
      label: 'Paste keywords',
      isUndone: true,
      isOpen: false,
      madeAt: '2026-11-30T09:00:00Z',
      author: 'Ada',
      replayedBy: 'Bo',
    };
    serve({ 'GET /api/history': [step], 'GET /api/history/dropped': { dropped: null } });
    show(<HistoryList />);
    expect(await screen.findByText(/Paste keywords \(undone by Bo\)/)).toBeTruthy();
    expect(screen.getByText(/^Ada, /)).toBeTruthy();
  });
});
