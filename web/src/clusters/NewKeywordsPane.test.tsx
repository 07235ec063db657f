import { cleanup, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { isDisabled, press, Refusal, sent, serve, show, told } from '../testing';
import { NewKeywordsPane } from './NewKeywordsPane';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const row = (keywordId: number, more: object = {}) => ({
  keywordId,
  phrase: `keyword ${keywordId}`,
  volume: 1_200,
  clusterId: 3,
  clusterName: 'dry suits',
  overlap: 6,
  isOffered: false,
  ...more,
});

const view = (more: object = {}) => ({
  placed: 1,
  placedDemand: 1_200,
  left: 2,
  leftDemand: 90,
  minOverlap: 4,
  rows: [row(1), row(2, { isOffered: true }), row(3, { clusterId: null, clusterName: null, overlap: 1 })],
  ...more,
});

describe('new keywords', () => {
  it('say how many can go into a cluster and how many are left', async () => {
    serve({ 'GET /api/clusters/new-keywords': view() });
    show(<NewKeywordsPane close={() => undefined} />);
    const says = await screen.findByText(/overlaps the primary of a cluster by 4 or more/);
    expect(says.textContent).toContain('1 keyword, demand 1,200');
    expect(says.textContent).toContain('2 keywords, demand 90, fit none');
    expect(screen.getByText('none')).toBeTruthy();
    expect(screen.getByText(/locked, only if you say so/)).toBeTruthy();
  });

  it('are placed all at once, but those of locked clusters', async () => {
    const asked = serve({ 'GET /api/clusters/new-keywords': view(), 'POST /api/clusters/place': { placed: 1 } });
    show(<NewKeywordsPane close={() => undefined} />);
    await press('Place 1');
    await waitFor(() => expect(told()).toBe('1 keyword placed.'));
    expect(sent(asked)[0]!.body).toEqual({ keywordIds: null });
  });

  it('are placed one by one, into a locked cluster too', async () => {
    const asked = serve({ 'GET /api/clusters/new-keywords': view(), 'POST /api/clusters/place': { placed: 1 } });
    show(<NewKeywordsPane close={() => undefined} />);
    await screen.findByText('keyword 2');
    const buttons = screen.getAllByRole('button', { name: 'place' });
    // The one that fits nowhere has none.
    expect(buttons).toHaveLength(2);
    buttons[1]!.click();
    await waitFor(() => expect(sent(asked)[0]?.body).toEqual({ keywordIds: [2] }));
  });

  it('say that there are none, and how many are not shown', async () => {
    serve({ 'GET /api/clusters/new-keywords': view({ placed: 0, left: 0, rows: [] }) });
    show(<NewKeywordsPane close={() => undefined} />);
    expect(await screen.findByText('Every captured keyword is in a cluster or declined.')).toBeTruthy();
    expect(isDisabled('Place 0')).toBe(true);
    cleanup();
    serve({ 'GET /api/clusters/new-keywords': view({ placed: 900, left: 100 }) });
    show(<NewKeywordsPane close={() => undefined} />);
    expect(await screen.findByText('3 of 1,000 are shown.')).toBeTruthy();
  });

  it('can be asked for again where that failed', async () => {
    const asked = serve({ 'GET /api/clusters/new-keywords': new Refusal(500, 'Something went wrong.') });
    show(<NewKeywordsPane close={() => undefined} />);
    expect(await screen.findByText('Something went wrong.')).toBeTruthy();
    await press('Try again');
    await waitFor(() => expect(asked).toHaveLength(2));
  });
});
