import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { choose, isDisabled, press, Refusal, sent, serve, show, told, write } from '../testing';
import { ClusterEdits, CutSuggestion, MemberEdits } from './ClusterEdits';

const cluster = {
  id: 1,
  name: 'kayak dry suit',
  size: 3,
  version: 'v1',
  primaryKeywordId: 10,
  isLocked: false,
  topicId: 4,
  topicName: 'dry suits',
} as unknown as Schema['ClusterRow'];

const others = {
  rows: [
    { id: 1, name: 'kayak dry suit', size: 3 },
    { id: 2, name: 'kayak paddle', size: 5 },
  ],
};

describe('what is done with members', () => {
  function shown(chosen: number[], answers: Record<string, unknown> = {}) {
    const asked = serve({
      'GET /api/clusters': others,
      'POST /api/clusters/move': { warning: null },
      'PUT /api/clusters/{id}': {},
      ...answers,
    });
    const clear = vi.fn();
    show(<MemberEdits cluster={cluster} chosen={chosen} clear={clear} />);
    return { asked, clear };
  }

  it('is nothing while none is ticked, and keys do nothing then', () => {
    const { asked } = shown([]);
    expect(screen.queryByRole('group')).toBeNull();
    fireEvent.keyDown(document.body, { key: 's' });
    expect(sent(asked)).toEqual([]);
  });

  it('moves them to another cluster, never to their own, and says what is odd about that', async () => {
    const { asked, clear } = shown([11], {
      'POST /api/clusters/move': { warning: '1 of 1 keyword shares no result with its primary.' },
    });
    await choose('Move 1 to…', 'kayak paddle (5)');
    expect(screen.queryByText('kayak dry suit (3)')).toBeNull();
    await waitFor(() => expect(told()).toBe('1 keyword moved.'));
    expect(sent(asked)[0]!.body).toEqual({ keywordIds: [11], toClusterId: 2 });
    expect(clear).toHaveBeenCalledOnce();
    expect(await screen.findByText('1 of 1 keyword shares no result with its primary.')).toBeTruthy();
  });

  it('splits them off by button or key, but never all of them', async () => {
    const { asked } = shown([11, 12]);
    fireEvent.keyDown(document.body, { key: 's', ctrlKey: true });
    fireEvent.keyDown(document.body, { key: 's' });
    await waitFor(() => expect(sent(asked).map((a) => a.body)).toEqual([{ keywordIds: [11, 12], toClusterId: null }]));
  });

  it('cannot split off all', () => {
    const { asked } = shown([10, 11, 12]);
    expect(isDisabled('Split off')).toBe(true);
    fireEvent.keyDown(document.body, { key: 's' });
    expect(sent(asked)).toEqual([]);
  });

  it('makes one of them primary, which is no other and not primary already', async () => {
    const { asked } = shown([11]);
    await press('Make primary');
    await waitFor(() => expect(told()).toBe('Primary changed.'));
    expect(sent(asked)[0]).toMatchObject({
      path: { id: 1 },
      body: { primaryKeywordId: 11, name: null, isLocked: null, version: 'v1' },
    });
  });

  it.each([[[10]], [[11, 12]]])('cannot make %s primary', (chosen) => {
    shown(chosen);
    expect(isDisabled('Make primary')).toBe(true);
  });
});

describe('what is done with a cluster', () => {
  function shown(answers: Record<string, unknown> = {}, of = cluster) {
    const asked = serve({
      'GET /api/clusters': others,
      'GET /api/topics': { rows: [{ id: 9, name: 'paddles', clusters: 2 }] },
      'GET /api/clusters/{id}/with/{other}': {
        warning: 'They share nothing.',
        primariesShare: 0,
        depth: 10,
        meanOverlap: 0.4,
        first: { size: 3, expected: 0, demand: 1000, cohesion: 0.5 },
        second: { size: 5, expected: 2, demand: 500, cohesion: 0.4 },
        cohesion: 0.2,
        sharedUrlCount: 0,
        sharedUrls: [],
      },
      'PUT /api/clusters/{id}': {},
      'POST /api/clusters/{id}/merge/{other}': {},
      'POST /api/topics/move': {},
      ...answers,
    });
    show(<ClusterEdits cluster={of} />);
    return asked;
  }

  it('is renamed and locked by its version', async () => {
    const asked = shown();
    write('Name of the cluster', 'Dry suits');
    await press('Rename');
    await press('Lock');
    await waitFor(() => expect(sent(asked)).toHaveLength(2));
    expect(sent(asked).map((a) => a.body)).toEqual([
      { name: 'Dry suits', primaryKeywordId: null, isLocked: null, version: 'v1' },
      { name: null, primaryKeywordId: null, isLocked: true, version: 'v1' },
    ]);
  });

  it('says that a regrouping leaves a locked one as it is', () => {
    shown({}, { ...cluster, isLocked: true });
    expect(screen.getByText('Locked: a re-grouping leaves it as it is.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Unlock' })).toBeTruthy();
  });

  it('is merged only after what the two would be together was shown', async () => {
    const asked = shown();
    expect(screen.queryByRole('button', { name: 'Merge' })).toBeNull();
    await choose('Merge with…', 'kayak paddle (5)');
    expect(await screen.findByText('They share nothing.')).toBeTruthy();
    expect(screen.getByText('They share nothing.').parentElement!.textContent).toContain('demand 1,500');
    await press('Merge');
    await waitFor(() => expect(told()).toBe('Merged.'));
    expect(sent(asked)[0]).toMatchObject({ path: { id: 1, other: 2 }, query: { version: 'v1' } });
  });

  it('moves to another topic', async () => {
    const asked = shown();
    await choose('Move to topic…', 'paddles (2)');
    await waitFor(() => expect(told()).toBe('Moved to the topic.'));
    expect(sent(asked)[0]!.body).toEqual({ clusterIds: [1], topicId: 9 });
  });

  it('says that somebody else changed it meanwhile', async () => {
    shown({ 'PUT /api/clusters/{id}': new Refusal(409, 'This was changed meanwhile in another window.') });
    await press('Lock');
    await waitFor(() => expect(told()).toBe('This was changed meanwhile in another window.'));
  });
});

describe('a suggested cut', () => {
  it('is looked for on request, and ticks what would leave', async () => {
    const asked = serve({
      'GET /api/clusters/{id}/cut': {
        cut: { minOverlap: 6, apart: [11, 12], heads: ['dry suit for kayaking'], overlapApart: 7, overlapAcross: 3.2 },
      },
    });
    const tick = vi.fn();
    show(<CutSuggestion cluster={cluster} tick={tick} />);
    expect(asked).toEqual([]);
    fireEvent.click(screen.getByText('suggest a cut'));
    expect((await screen.findByText(/At a minimum of 6, 2 keywords would leave/)).textContent).toContain(
      'they share 7.0 results with each other and 3.2 with those',
    );
    fireEvent.click(screen.getByText('tick them'));
    expect(tick).toHaveBeenCalledWith([11, 12]);
  });

  it('is nothing where no minimum splits it, or it is too small', async () => {
    serve({ 'GET /api/clusters/{id}/cut': { cut: null } });
    const { unmount } = show(<CutSuggestion cluster={cluster} tick={() => undefined} />);
    fireEvent.click(screen.getByText('suggest a cut'));
    expect(await screen.findByText(/No minimum overlap splits it into groups/)).toBeTruthy();
    unmount();
    show(<CutSuggestion cluster={{ ...cluster, size: 2 }} tick={() => undefined} />);
    expect(screen.queryByText('suggest a cut')).toBeNull();
  });
});
