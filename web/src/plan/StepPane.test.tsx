import { fireEvent, screen, waitFor } from '@testing-library/react';
import { beforeAll, describe, expect, it } from 'vitest';
import { choose, knowWords, press, sent, serve, show, told, write } from '../testing';
import { StepPane } from './StepPane';

beforeAll(() =>
  knowWords({
    stepStatuses: ['todo', 'done', 'live', 'dropped'].map((value) => ({ value, name: value, phrase: value })),
    findingStates: [],
  }),
);

const step = {
  id: 3,
  version: 'v1',
  what: 'redirect',
  kind: 'redirect',
  url: 'https://fenwater.example/hire',
  title: 'Kayak hire',
  clusters: [],
  demand: 0,
  topicId: 4,
  topicName: 'hire',
  pageId: 1,
  isPlanned: false,
  status: 'todo',
  owner: 'Ada',
  due: null,
  hours: 0.25,
  hoursByHand: false,
  note: '',
  reason: null,
  gainSays: '391 clicks a month',
  parts: [
    { id: 5, says: 'Redirect it to /places', otherUrl: null, because: null, isDone: false, isFound: null, found: '' },
    {
      id: 6,
      says: 'Mention “kayak hire”',
      otherUrl: null,
      because: null,
      isDone: true,
      isFound: false,
      found: 'not there',
    },
  ],
};
const detail = {
  step,
  why: [],
  whyHere: ['It brings most for its hours.'],
  before: [],
  after: [],
  proof: ['The address redirects to /places.'],
  links: [],
  entries: [{ says: 'made', madeAt: '2026-11-24T10:00:00Z', isComment: false }],
};

function shown(changes: object = {}, answers: Record<string, unknown> = {}) {
  const asked = serve({
    'GET /api/plan/steps/{id}': { ...detail, step: { ...step, ...changes } },
    'GET /api/plan/owners': ['Ada', 'Grace'],
    'POST /api/plan/steps/change': { steps: 1 },
    'POST /api/plan/steps/{id}/comments': { steps: 1 },
    ...answers,
  });
  show(<StepPane id={3} host="fenwater.example" />);
  return asked;
}

describe('the pane of a step', () => {
  it('says why it is there, what proves it, and leads to its topic', async () => {
    shown();
    expect(await screen.findByRole('heading', { name: 'Redirect: /hire' })).toBeTruthy();
    expect(screen.getByText('391 clicks a month.')).toBeTruthy();
    expect(screen.getByText('The address redirects to /places.')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'hire' }).getAttribute('href')).toBe('/clusters?view=topics&topic=4');
    expect(screen.getByText('Not verified: not there', { exact: false })).toBeTruthy();
  });

  it('changes one thing at a time, by the version that is shown', async () => {
    const asked = shown();
    await screen.findByLabelText('Status');
    await choose('Status', 'done');
    await waitFor(() => expect(told()).toBe('1 step changed.'));
    const hours = screen.getByLabelText('Hours');
    fireEvent.change(hours, { target: { value: '2' } });
    fireEvent.blur(hours);
    await waitFor(() => expect(sent(asked)).toHaveLength(2));
    expect(sent(asked).map((a) => a.body)).toMatchObject([
      { ids: [3], version: 'v1', status: 'done', hours: null },
      { ids: [3], version: 'v1', status: null, hours: 2 },
    ]);
  });

  it('sends nothing where a field is left as it was', async () => {
    const asked = shown();
    fireEvent.blur(await screen.findByLabelText('Hours'));
    fireEvent.blur(screen.getByLabelText('Note'));
    fireEvent.blur(screen.getByLabelText('Owner'));
    expect(sent(asked)).toEqual([]);
  });

  it('wants a reason to drop it', async () => {
    const asked = shown();
    await screen.findByLabelText('Status');
    await choose('Status', 'dropped');
    expect(sent(asked)).toEqual([]);
    write('Why is it dropped?', 'the page goes in spring');
    await press('Drop');
    await waitFor(() =>
      expect(sent(asked)[0]!.body).toMatchObject({ status: 'dropped', reason: 'the page goes in spring' }),
    );
  });

  it('cannot be told to be live', async () => {
    shown();
    fireEvent.mouseDown(await screen.findByLabelText('Status'));
    const live = (await screen.findAllByText('live')).at(-1)!.closest('.ant-select-item')!;
    expect(live.className).toContain('disabled');
  });

  it('checks off and removes parts, but not the last one', async () => {
    const asked = shown();
    fireEvent.click(await screen.findByRole('checkbox', { name: 'Redirect it to /places' }));
    await press('Remove: Mention “kayak hire”');
    await waitFor(() => expect(sent(asked)).toHaveLength(2));
    expect(sent(asked)).toMatchObject([
      { what: 'PUT /api/plan/parts/{id}', path: { id: 5 }, body: { isDone: true } },
      { what: 'DELETE /api/plan/parts/{id}', path: { id: 6 } },
    ]);
  });

  it('offers no way to remove its only part', async () => {
    shown({ parts: [step.parts[0]] });
    await screen.findByRole('checkbox', { name: 'Redirect it to /places' });
    expect(screen.queryByRole('button', { name: /^Remove:/ })).toBeNull();
  });

  it('takes a comment, and is ready for the next', async () => {
    const asked = shown();
    await screen.findByLabelText('Comment');
    write('Comment', 'asked the shop');
    await press('Add');
    await waitFor(() => expect(sent(asked)[0]).toMatchObject({ path: { id: 3 }, body: { says: 'asked the shop' } }));
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('Comment').value).toBe(''));
  });
});
