import { fireEvent, screen, waitFor } from '@testing-library/react';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { choose, isDisabled, knowWords, press, Refusal, sent, serve, show, told, write } from '../testing';
import { AddStepPane } from './AddStepPane';
import { PeoplePane } from './PeoplePane';

beforeAll(() =>
  knowWords({
    stepKinds: [
      { value: 'refresh', name: 'refresh', phrase: 'refresh' },
      { value: 'redirect', name: 'redirect', phrase: 'redirect' },
    ],
  }),
);

const pages = {
  rows: [
    { id: 1, url: 'https://fenwater.example/hire' },
    { id: 2, url: 'https://fenwater.example/places' },
  ],
};

describe('the pane that adds a step', () => {
  function shown(answers: Record<string, unknown> = {}) {
    const asked = serve({ 'GET /api/pages': pages, 'POST /api/plan/steps': { id: 9 }, ...answers });
    const added = vi.fn();
    show(<AddStepPane host="fenwater.example" added={added} close={() => undefined} />);
    return { asked, added };
  }

  it('asks for a second page only where the kind is about two', async () => {
    const { asked, added } = shown();
    expect(isDisabled('Add')).toBe(true);
    expect(screen.queryByLabelText('The page that it redirects to')).toBeNull();
    await choose('What', 'redirect');
    await choose('Page', '/hire');
    await choose('The page that it redirects to', '/places');
    write('What is to be done', 'in spring');
    await press('Add');
    await waitFor(() => expect(added).toHaveBeenCalledWith(9));
    expect(sent(asked)[0]!.body).toEqual({ kind: 'redirect', pageId: 1, otherPageId: 2, note: 'in spring' });
    expect(told()).toBe('Added to the plan.');
  });

  it('leaves out a second page that is not asked for any more', async () => {
    const { asked } = shown();
    await choose('What', 'redirect');
    await choose('Page', '/hire');
    await choose('The page that it redirects to', '/places');
    await choose('What', 'refresh');
    await press('Add');
    await waitFor(() =>
      expect(sent(asked)[0]!.body).toEqual({ kind: 'refresh', pageId: 1, otherPageId: null, note: '' }),
    );
  });

  it('tells a refusal beside the field that it is about', async () => {
    const { added } = shown({
      'POST /api/plan/steps': new Refusal(400, 'Choose the other page: redirect it to ….', 'otherPageId'),
    });
    await choose('What', 'redirect');
    await choose('Page', '/hire');
    await press('Add');
    expect(await screen.findByText('Choose the other page: redirect it to ….')).toBeTruthy();
    expect(added).not.toHaveBeenCalled();
  });
});

describe('the pane of people and hours', () => {
  const settings = {
    people: [{ name: 'Ada', hoursPerWeek: 12, daysOff: ['2026-12-24'] }],
    effort: [
      { kind: 'write', upTo: 600, hours: 4 },
      { kind: 'write', upTo: null, hours: 14 },
    ],
    until: null,
    isUsualEffort: true,
    teamHours: 30,
    kinds: [{ kind: 'write', name: 'write' }],
  };
  const shown = (answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/plan/settings': settings, ...answers });
    show(<PeoplePane close={() => undefined} />);
    return asked;
  };

  it('adds and removes people, and keeps the usual hours as they are', async () => {
    const asked = shown();
    await screen.findByLabelText('Name 1');
    await press('Add a person');
    write('Name 2', 'Grace');
    write('Hours a week 2', '8');
    await press('Remove person 1');
    await waitFor(() => expect(screen.queryByLabelText('Name 2')).toBeNull());
    await press('Save');
    await waitFor(() => expect(told()).toBe('Saved. The roadmap is updated.'));
    expect(sent(asked)[0]!.body).toEqual({
      people: [{ name: 'Grace', hoursPerWeek: 8, daysOff: [] }],
      until: null,
      effort: null,
    });
  });

  it('sends the whole table of hours once one of them is changed', async () => {
    const asked = shown();
    await screen.findByLabelText('Name 1');
    write('Hours to Write 600', '5.5');
    await press('Save');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]!.body).toMatchObject({
      people: settings.people,
      effort: [
        { kind: 'write', upTo: 600, hours: 5.5 },
        { kind: 'write', upTo: null, hours: 14 },
      ],
    });
  });

  it('takes only days as days off', async () => {
    const asked = shown();
    const days = await screen.findByLabelText('Days off 1');
    for (const text of ['soon', '2026-12-31']) {
      fireEvent.change(days, { target: { value: text } });
      fireEvent.keyDown(days, { key: 'Enter', keyCode: 13 });
    }
    await press('Save');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]!.body).toMatchObject({ people: [{ daysOff: ['2026-12-24', '2026-12-31'] }] });
  });

  it('tells what is refused above its buttons', async () => {
    shown({ 'PUT /api/plan/settings': new Refusal(400, 'Give each person a name.', 'people') });
    await screen.findByLabelText('Name 1');
    write('Name 1', ' ');
    await press('Save');
    expect((await screen.findByRole('alert')).textContent).toBe('Give each person a name.');
  });
});
