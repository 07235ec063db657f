import { cleanup, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { press, sent, serve, show, told } from '../testing';
import { Ideas } from './Ideas';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const topic = { id: 8, name: 'Suits' } as Schema['TopicRow'];
const idea = (phrase: string, more: object = {}) => ({
  phrase,
  sites: 3,
  pages: 4,
  demand: 700,
  clusterId: null,
  examples: [{ heading: `All about ${phrase}`, url: 'https://other.example/a' }],
  ...more,
});

function ideas(view: object, more: Record<string, unknown> = {}) {
  const asked = serve({
    'GET /api/topics/{id}/ideas': { ranking: 6, read: 6, failed: 0, ownPages: 2, ideas: [], ...view },
    'POST /api/topics/{id}/subtopics': {},
    'POST /api/topics/{id}/headings': {},
    ...more,
  });
  show(<Ideas topic={topic} />);
  return asked;
}

describe('what rivals have', () => {
  it('says where nobody else ranks, and offers nothing to read', async () => {
    ideas({ ranking: 0, read: 0 });
    expect(await screen.findByText('No page of another site ranks for this topic.')).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('reads the pages that were not read yet', async () => {
    const asked = ideas(
      { read: 0 },
      {
        'POST /api/topics/{id}/read': { id: 77 },
        'GET /api/jobs/{id}': { id: 77, state: 'running', label: 'Reading', message: '', progress: null },
        'GET /api/jobs/active': [],
      },
    );
    expect(await screen.findByText(/Searchers are led to 6 pages of others most/)).toBeTruthy();
    await press('Read 6 pages of others');
    await waitFor(() => expect(sent(asked)[0]).toMatchObject({ what: 'POST /api/topics/{id}/read', path: { id: 8 } }));
  });

  it('says how many failed, and that nothing is new', async () => {
    ideas({ failed: 2, ownPages: 0 });
    expect(await screen.findByText(/Headings of 4 pages of others, compared with none of your own/)).toBeTruthy();
    expect(screen.getByText(/2 pages couldn’t be read/)).toBeTruthy();
    expect(screen.getByText('Their headings share nothing that yours lack.')).toBeTruthy();
  });

  it('is added to the outline, or saved as a heading of theirs', async () => {
    const asked = ideas({ ideas: [idea('latex seals'), idea('repair kits', { demand: null, clusterId: 3 })] });
    expect(await screen.findByText('not known')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'its cluster' }).getAttribute('href')).toBe('/clusters?id=3');
    await press('Add latex seals');
    await waitFor(() => expect(told()).toBe('Added to the outline. It waits for keywords.'));
    expect(sent(asked)[0]).toMatchObject({ path: { id: 8 }, body: { phrase: 'latex seals', note: 'rivals have it' } });
    await press('Save “All about repair kits” as a heading');
    await waitFor(() => expect(told()).toContain('Saved for the topic'));
    expect(sent(asked)[1]!.body).toEqual({ heading: 'All about repair kits' });
  });
});
