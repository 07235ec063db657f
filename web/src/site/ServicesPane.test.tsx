import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { captureSettings, Refusal, sent, serve, show, told, write } from '../testing';
import { PastePages } from './PastePages';
import { PerformancePane } from './PerformancePane';
import { ServicesPane } from './ServicesPane';

const search = { name: 'search', address: 'http://localhost:5188', header: 'X-Api-Key', hasKey: true };
const saveButton = (at: number) => screen.getAllByRole('button', { name: 'Save' })[at]!;

function shown(answers: Record<string, unknown> = {}) {
  const asked = serve({ 'GET /api/services': [search], 'GET /api/settings': { capture: captureSettings }, ...answers });
  show(<ServicesPane close={() => undefined} />);
  return asked;
}

describe('the pane of the services', () => {
  it('never shows a key, keeps the one there is where none is entered, and forgets what was entered', async () => {
    const asked = shown();
    const key = await screen.findByLabelText<HTMLInputElement>('Key of search');
    expect(key.value).toBe('');
    expect(key.placeholder).toBe('a key is kept');
    write('Address of search', 'http://localhost:9');
    fireEvent.click(saveButton(0));
    await waitFor(() => expect(told()).toBe('Saved.'));
    write('Key of search', 'secret');
    fireEvent.click(saveButton(0));
    await waitFor(() => expect(sent(asked)).toHaveLength(2));
    expect(sent(asked).map((a) => [a.path, a.body])).toEqual([
      [{ name: 'search' }, { address: 'http://localhost:9', header: 'X-Api-Key', key: null }],
      [{ name: 'search' }, { address: 'http://localhost:9', header: 'X-Api-Key', key: 'secret' }],
    ]);
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('Key of search').value).toBe(''));
  });

  it('tells a refused address beside it', async () => {
    shown({ 'PUT /api/services/{name}': new Refusal(400, '“nowhere” is no address.', 'address') });
    await screen.findByLabelText('Key of search');
    write('Address of search', 'nowhere');
    fireEvent.click(saveButton(0));
    expect(await screen.findByText('“nowhere” is no address.')).toBeTruthy();
    expect(screen.getByLabelText('Address of search').getAttribute('aria-invalid')).toBe('true');
  });

  it('saves what a capture costs with all that it does not show', async () => {
    const asked = shown();
    await screen.findByLabelText('Price of a list');
    write('Price of a list', '0.01');
    write('Currency', 'gbp');
    fireEvent.click(saveButton(1));
    await waitFor(() =>
      expect(sent(asked)[0]!.body).toEqual({ ...captureSettings, pricePerRequest: 0.01, currency: 'GBP' }),
    );
  });
});

const summary = {
  rows: 0,
  firstDay: null,
  lastDay: null,
  days: 0,
  countsFrom: null,
  queries: 0,
  clicks: 0,
  impressions: 0,
};
const performance = { summary, newest: null, proposedFrom: '2026-08-01', proposedTo: '2026-11-26' };

describe('the pane of search performance', () => {
  it('reads the days that it proposes', async () => {
    const asked = serve({ 'GET /api/performance': performance, 'POST /api/performance': { id: 5 } });
    show(<PerformancePane bring={() => undefined} close={() => undefined} />);
    expect(await screen.findByText(/None was brought yet/)).toBeTruthy();
    write('Last day', '2026-10-31');
    fireEvent.click(screen.getByRole('button', { name: 'Read' }));
    await waitFor(() => expect(told()).toBe('Reading search performance.'));
    expect(sent(asked)[0]!.body).toEqual({ from: '2026-08-01', to: '2026-10-31' });
  });

  it('tells a refused day beside it', async () => {
    serve({
      'GET /api/performance': performance,
      'POST /api/performance': new Refusal(400, 'The last day is before the first.', 'to'),
    });
    show(<PerformancePane bring={() => undefined} close={() => undefined} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Read' }));
    expect(await screen.findByText('The last day is before the first.')).toBeTruthy();
    expect(screen.getByLabelText('Last day').getAttribute('aria-invalid')).toBe('true');
    expect(screen.getByLabelText('First day').getAttribute('aria-invalid')).not.toBe('true');
  });

  it('reads nothing while it is being read, and says how far it is', async () => {
    const newest = {
      id: 5,
      state: 'running',
      label: 'Search performance',
      progress: { phase: 'Reading', done: 1, total: 4, secondsLeft: 9 },
    };
    serve({ 'GET /api/performance': { ...performance, newest }, 'GET /api/jobs/{id}': newest });
    show(<PerformancePane bring={() => undefined} close={() => undefined} />);
    expect(await screen.findByText('Reading: 1 of 4, 9 s left')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Read' }).disabled).toBe(true);
  });
});

describe('pasted addresses', () => {
  it('come with what was rejected, and why', async () => {
    const asked = serve({
      'POST /api/pages/paste': {
        added: 1,
        known: 2,
        rejectedCount: 1,
        rejected: ['mailto:a: is no page of the site.'],
      },
    });
    show(<PastePages close={() => undefined} />);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add' }).disabled).toBe(true);
    write('Addresses, one a line', '/a\n/b\n/c\nmailto:a');
    fireEvent.click(screen.getByRole('button', { name: 'Add' }));
    expect(await screen.findByText('1 new page, 2 known. 1 line rejected:')).toBeTruthy();
    expect(screen.getByText('mailto:a: is no page of the site.')).toBeTruthy();
    expect(sent(asked)[0]!.body).toEqual({ text: '/a\n/b\n/c\nmailto:a' });
  });
});
