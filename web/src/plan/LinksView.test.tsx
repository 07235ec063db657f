import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { useListState } from '../pieces/useListState';
import { isDisabled, press, sent, serve, show, told } from '../testing';
import { LinksView } from './LinksView';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const link = (sourceId: number, targetId: number, more: object = {}) => ({
  sourceId,
  sourceUrl: `https://fenwater.example/s${sourceId}`,
  targetId,
  targetUrl: `https://fenwater.example/t${targetId}`,
  says: 'support to pillar',
  passage: 'A dry suit keeps you dry.',
  words: 'dry suit',
  start: 2,
  advice: '',
  hasStep: false,
  ...more,
});

function links(rows: object[], { count = rows.length, notRead = 0, at = '/plan?view=links' } = {}) {
  const asked = serve({
    'GET /api/plan/links': { rows, count, notRead },
    'GET /api/topics': { rows: [{ id: 4, name: 'Suits' }] },
    'POST /api/plan/links': { steps: 2 },
  });
  const tally = vi.fn();
  const View = () => <LinksView list={useListState()} host="fenwater.example" onTally={tally} />;
  show(<View />, { at });
  return { asked, tally };
}

describe('links that are missing', () => {
  it('show the passage with the words to link', async () => {
    links([link(1, 2)]);
    expect((await screen.findByText('dry suit')).tagName).toBe('MARK');
    expect(screen.getByText('/s1')).toBeTruthy();
  });

  it('go into the plan all at once', async () => {
    const { asked } = links([link(1, 2), link(1, 3)]);
    await press('Add all to the plan');
    await waitFor(() => expect(told()).toBe('2 steps with links.'));
    expect(sent(asked)[0]!.body).toEqual({ links: null, topicId: null, pageId: null });
  });

  it('go into the plan as far as they are picked', async () => {
    const { asked } = links([link(1, 2), link(1, 3), link(4, 2)]);
    fireEvent.click(await screen.findByLabelText(/from .*s1 to .*t3/));
    fireEvent.click(screen.getByLabelText(/from .*s4 to .*t2/));
    fireEvent.click(screen.getByLabelText(/from .*s1 to .*t3/));
    await press('Add 1 link to the plan');
    await waitFor(() =>
      expect(sent(asked)[0]!.body).toEqual({
        links: [{ sourceId: 4, targetId: 2 }],
        topicId: null,
        pageId: null,
      }),
    );
    // What was picked has been done.
    expect(await screen.findByRole('button', { name: 'Add all to the plan' })).toBeTruthy();
  });

  it('of one topic are added with it', async () => {
    const { asked } = links([link(1, 2)], { at: '/plan?view=links&topic=4' });
    await press('Add all to the plan');
    await waitFor(() => expect(sent(asked)[0]!.body).toMatchObject({ topicId: 4 }));
    expect(asked.find((a) => a.what === 'GET /api/plan/links')!.query).toMatchObject({ topicId: 4 });
  });

  it('that are in the plan already cannot be added again', async () => {
    links([link(1, 2, { hasStep: true })]);
    expect(await screen.findByText('in the plan')).toBeTruthy();
    expect(isDisabled('Add all to the plan')).toBe(true);
    expect(screen.queryByRole('checkbox')).toBeNull();
  });

  it('are shown further on request', async () => {
    const { asked } = links([link(1, 2)], { count: 300 });
    await press('Show more');
    await waitFor(() =>
      expect(asked.filter((a) => a.what === 'GET /api/plan/links').at(-1)!.query).toMatchObject({ limit: 500 }),
    );
  });

  it('may be unknown where pages were not read', async () => {
    links([], { notRead: 12 });
    expect(await screen.findByText(/The links of 12 pages were not read/)).toBeTruthy();
    cleanup();
    links([]);
    expect(await screen.findByText(/Pillars and their supporting pages link to each other/)).toBeTruthy();
  });
});
