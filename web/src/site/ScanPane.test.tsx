import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schema } from '../api/client';
import { jobsKey } from '../api/keys';
import { choose, press, Refusal, sent, serve, show, told, write } from '../testing';
import { ScanPane } from './ScanPane';

const scan: Schema['ScanSettings'] = {
  depth: 'light',
  findBy: 'sitemapElseLinks',
  startUrl: '',
  ratePerSecond: 5,
  atOnce: 4,
  maxPages: 20_000,
  allowPrivate: false,
  gateway: '',
  gatewayFor: 'example',
};

const job = {
  id: 3,
  label: 'Light scan of fenwater.example',
  state: 'running',
  message: '',
  createdAt: '2026-11-27T10:00:00Z',
  canResume: false,
  progress: { phase: 'Reading pages', done: 40, total: 200, secondsLeft: 32 },
} as Schema['JobView'];

const over = { ...job, state: 'done', message: '200 addresses read.', progress: null } as Schema['JobView'];

const view = (of: Schema['JobView']) => ({
  job: of,
  scan: { startedAt: '2026-11-27T10:00:00Z', finishedAt: '2026-11-27T10:01:00Z', notes: 'No sitemap was found.' },
  counts: { waiting: 0, done: 198, failed: 1, skipped: 1 },
  changes: { new: 2, title: 1 },
});

function shown(answers: Record<string, unknown> = {}, newest?: Schema['JobView']) {
  const asked = serve({
    'GET /api/settings': { scan },
    'GET /api/scans': newest ? [view(newest)] : [],
    'GET /api/jobs/{id}': newest,
    'POST /api/scans': { id: 4 },
    ...answers,
  });
  show(<ScanPane close={() => undefined} />, { known: [[jobsKey, newest?.state === 'running' ? [newest] : []]] });
  return asked;
}

describe('the pane of a scan', () => {
  it('keeps the settings, then scans', async () => {
    const asked = shown();
    await screen.findByRole('button', { name: 'Scan' });
    await choose('What to read', 'full: also text, word counts, links, dates');
    fireEvent.click(screen.getByText('more settings'));
    write('Requests a second', '20');
    await press('Scan');
    await waitFor(() =>
      expect(sent(asked).map((a) => [a.what, a.body])).toEqual([
        ['PUT /api/settings/scan', { ...scan, depth: 'full', ratePerSecond: 20 }],
        ['POST /api/scans', undefined],
      ]),
    );
  });

  it('opens the settings that were hidden where one of them is refused', async () => {
    const asked = shown({ 'PUT /api/settings/scan': new Refusal(400, '“ftp:” is no address of the web.', 'startUrl') });
    await screen.findByRole('button', { name: 'Scan' });
    expect(screen.queryByLabelText('Start address (default: the domain)')).toBeNull();
    await press('Scan');
    expect(await screen.findByText('“ftp:” is no address of the web.')).toBeTruthy();
    expect(screen.getByLabelText('Start address (default: the domain)').getAttribute('aria-invalid')).toBe('true');
    expect(sent(asked).map((a) => a.what)).toEqual(['PUT /api/settings/scan']);
  });

  it('says where the site is not named yet', async () => {
    shown({ 'POST /api/scans': new Refusal(409, 'Name the site first.') });
    await press('Scan');
    await waitFor(() => expect(told()).toBe('Name the site first.'));
  });

  it('shows how far a scan is, with the time left, and starts no second one', async () => {
    shown({}, job);
    expect(await screen.findByText('Reading pages: 40 of 200, 32 s left')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Scan' }).disabled).toBe(true);
    expect(screen.getByRole('button', { name: 'Stop' })).toBeTruthy();
  });

  it('says what a scan found, and what changed or was not read on request', async () => {
    shown(
      {
        'GET /api/scans/{id}/changes': [
          { pageId: 1, kind: 'new', url: 'https://fenwater.example/a', before: null, after: null },
          { pageId: 2, kind: 'title', url: 'https://fenwater.example/b', before: 'Old', after: 'New' },
        ],
        'GET /api/scans/{id}/unread': [{ url: 'https://fenwater.example/c', state: 'failed', note: 'status 500' }],
      },
      over,
    );
    expect(await screen.findByText('No sitemap was found.')).toBeTruthy();
    fireEvent.click(screen.getByText('what changed (2 new, 1 title changed)'));
    expect(await screen.findByText('Old → New')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Download all changes as CSV' }).getAttribute('href')).toBe(
      '/api/scans/3/changes.csv',
    );
    fireEvent.click(screen.getByText('what was not read (2 addresses)'));
    expect(await screen.findByText('status 500')).toBeTruthy();
    expect(screen.queryByText('Old → New')).toBeNull();
  });
});
