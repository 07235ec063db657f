import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { press, serve, show, where } from '../testing';
import { MappingPane, type Wish } from './MappingPane';

const cluster = {
  id: 4,
  name: 'kayak hire',
  size: 14,
  expected: 0,
  demand: 6570,
  intent: 'informational',
  version: 'v1',
  verdict: 'clear',
  suggestedPageId: 1,
  pageId: null,
  pageUrl: null,
  pageKind: null,
  declined: null,
  lostTo: null,
  topicId: null,
  topicName: null,
};
const candidate = (pageId: number, path: string, more: object = {}) => ({
  page: {
    pageId,
    url: `https://fenwater.example${path}`,
    title: path.slice(1),
    strength: 80 - 10 * pageId,
    results: 0.6,
    performance: null,
    text: 0.5,
    assignedTo: null,
  },
  standings: [{ keyword: 'kayak hire', volume: 2400, position: 3, averagePosition: null, clicks: 0 }],
  seenFor: 13,
  keywords: 14,
  notMentioned: ['canoe hire'],
  notMentionedCount: 1,
  clicks: 0,
  impressions: 0,
  isRead: true,
  caution: null,
  ...more,
});

function shown(
  changes: object = {},
  candidates: object[] = [candidate(1, '/hire'), candidate(2, '/places')],
  wish?: Wish,
) {
  serve({
    'GET /api/page-map/{clusterId}': {
      cluster: { ...cluster, ...changes },
      candidates,
      rivals: [],
      performanceDays: 0,
      proposedUrl: '/kayak-hire',
      proposedTitle: 'Kayak hire',
      proposedForm: 'guide',
    },
    'GET /api/clusters/{id}/brief': { id: 12 },
  });
  const [assign, clear, setWish] = [vi.fn(), vi.fn(), vi.fn()];
  show(
    <MappingPane clusterId={4} host="fenwater.example" wish={wish} setWish={setWish} assign={assign} clear={clear} />,
    { at: '/page-map' },
  );
  return { assign, clear, setWish };
}

describe('the pane that maps a cluster', () => {
  it('accepts what is suggested, by the version that is shown', async () => {
    const { assign } = shown();
    expect(await screen.findByText('One page fits well and is ahead of the next.')).toBeTruthy();
    await press(/^Accept/);
    expect(assign).toHaveBeenCalledWith(1, 'v1');
  });

  it('takes any other candidate, and shows the facts of each', async () => {
    const { assign } = shown();
    await press('Choose https://fenwater.example/places');
    expect(assign).toHaveBeenCalledWith(2, 'v1');
    expect(screen.getByText(/It does not mention all words of 1 keyword: canoe hire/)).toBeTruthy();
    fireEvent.click(screen.getByText('less'));
    expect(screen.queryByText(/It does not mention all words/)).toBeNull();
  });

  it('says of doubtful ones what to look at, and where its page went', async () => {
    shown({ verdict: 'doubtful', lostTo: 'canoe hire' }, [candidate(1, '/hire', { caution: 'Made for buying.' })]);
    expect((await screen.findByText(/Look at the facts before accepting\./)).textContent).toContain(
      'Its strongest page serves “canoe hire” better',
    );
    expect(screen.getByText('Made for buying.')).toBeTruthy();
  });

  it('plans a page where none fits', async () => {
    const { setWish } = shown({ verdict: 'none', suggestedPageId: null }, []);
    expect(await screen.findByText('No page of the site is in its results or mentions its words.')).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Accept/ })).toBeNull();
    await press(/^Plan a new page/);
    expect(setWish).toHaveBeenCalledWith('new');
    await press(/^Decline/);
    expect(setWish).toHaveBeenLastCalledWith('decline');
  });

  it('shows what is decided, unassigns it, and leads to the brief', async () => {
    const { clear } = shown({ pageId: 1, pageUrl: 'https://fenwater.example/hire', pageKind: 'existing' });
    expect((await screen.findByText('/hire', { selector: 'p b' })).closest('p')!.textContent).toBe(
      'Decided: /hire, existing.',
    );
    expect(screen.queryByRole('button', { name: /^Accept/ })).toBeNull();
    await press(/^Unassign/);
    expect(clear).toHaveBeenCalledWith('v1');
    await press('Open the brief');
    expect(where()).toBe('/briefs?id=12');
  });

  it('says why no page is wanted', async () => {
    shown({ declined: 'no lessons here', suggestedPageId: null });
    expect(await screen.findByText('no lessons here')).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Decline/ })).toBeNull();
    expect(screen.getByRole('button', { name: /^Unassign/ })).toBeTruthy();
  });

  it.each([
    ['new', 'Address of the new page'],
    ['decline', 'Why no page?'],
  ] as const)('asks for what is needed: %s', async (wish, label) => {
    shown({}, [], wish);
    expect(await screen.findByLabelText(label)).toBeTruthy();
  });
});
