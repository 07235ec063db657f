import { fireEvent, screen, waitFor } from '@testing-library/react';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Schema } from '../api/client';
import { jobsKey } from '../api/keys';
import { choose, knowWords, press, Refusal, sent, serve, show, told, write } from '../testing';
import { RegroupPane } from './RegroupPane';

beforeAll(() =>
  knowWords({
    linkingRules: [
      { value: 'primary', name: 'primary', phrase: 'around the keywords of greatest volume' },
      { value: 'chain', name: 'chain', phrase: 'one member is enough' },
    ],
  }),
);

const project = (groupedAt: string | null) =>
  ({
    groupedAt,
    grouping: { depth: 10, minOverlap: 4, rule: 'primary', smallest: 1 },
    track: [{ stage: 'results', share: 0.42 }],
  }) as unknown as Schema['ProjectView'];

const row = (minOverlap: number) => ({
  minOverlap,
  clusters: 30 - minOverlap,
  singletons: minOverlap,
  singletonShare: minOverlap / 100,
  largest: 12,
  cohesion: 0.5,
  demandInClusters: 900,
});
const preview = {
  captured: 100,
  rows: [row(3), row(4), row(5)],
  advice: ['At 4, no cluster is mixed.'],
  tighter: [],
  looser: [],
  changes: null,
  isComplete: true,
};

function shown(answers: Record<string, unknown> = {}, groupedAt: string | null = null, active: object[] = []) {
  const asked = serve({
    'GET /api/lists': [{ id: 2, name: 'Suits', keywords: 12 }],
    'GET /api/keywords/sources': [],
    'GET /api/clusters/preview': preview,
    'POST /api/clusters/regroup': { id: 9 },
    'GET /api/jobs/{id}': { id: 9, state: 'done', message: '26 clusters.', canResume: false },
    ...answers,
  });
  show(<RegroupPane project={project(groupedAt)} close={() => undefined} />, { known: [[jobsKey, active]] });
  return asked;
}

describe('the pane that groups', () => {
  it('sends what was chosen, and says what came of it', async () => {
    const asked = shown();
    fireEvent.click(await screen.findByRole('radio', { name: /^chain/ }));
    await choose('Keywords to group', 'list Suits (12)');
    write(/^Hosts left out/, ' video.example \n');
    fireEvent.click(screen.getByLabelText(/^Short lists may group/));
    await press('Group');
    expect(await screen.findByText('26 clusters.')).toBeTruthy();
    expect(sent(asked)[0]!.body).toEqual({
      depth: 10,
      minOverlap: 4,
      rule: 'chain',
      smallest: 1,
      leftOutHosts: 'video.example',
      listId: 2,
      perHost: 0,
      shortLists: true,
      hysteresis: 2,
    });
  });

  it('never asks for more shared results than are compared', async () => {
    const asked = shown();
    write('Depth: results compared', '3');
    await press('Group');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]!.body).toMatchObject({ depth: 3, minOverlap: 3 });
  });

  it('takes a minimum from the preview', async () => {
    const asked = shown({}, '2026-11-27T10:00:00Z');
    expect(await screen.findByText('At 4, no cluster is mixed.')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Minimum overlap 5' }));
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>(/^Minimum overlap: shared/).value).toBe('5'));
    await press('Regroup');
    await waitFor(() => expect(sent(asked)[0]!.body).toMatchObject({ minOverlap: 5 }));
  });

  it('waits with the preview until a host is whole', async () => {
    const asked = shown();
    await screen.findByText('At 4, no cluster is mixed.');
    for (const text of ['v', 'vi', 'video.example']) write(/^Hosts left out/, text);
    const previews = () =>
      asked.filter((a) => a.what === 'GET /api/clusters/preview').map((a) => a.query!['LeftOutHosts']);
    await waitFor(() => expect(previews()).toEqual(['', 'video.example']));
  });

  it('says why nothing can be grouped, and groups nothing while it groups', async () => {
    const running = { id: 9, state: 'running', message: '', progress: { phase: 'Comparing', done: 1, total: 2 } };
    let refuses = true;
    const asked = shown(
      { 'POST /api/clusters/regroup': () => (refuses ? new Refusal(409, 'No keyword has a result list.') : { id: 9 }) },
      null,
      [running],
    );
    await press('Group');
    await waitFor(() => expect(told()).toBe('No keyword has a result list.'));
    refuses = false;
    await press('Group');
    expect(await screen.findByText(/^Comparing: 1 of 2/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Group' }).disabled).toBe(true);
    expect(sent(asked)).toHaveLength(2);
  });
});
