import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { useListState } from '../pieces/useListState';
import { captureSettings, choose, isDisabled, press, Refusal, sent, serve, show, told, write } from '../testing';
import { ChangesPane } from './ChangesPane';
import { SchedulePart } from './SchedulePart';

const Changes = () => <ChangesPane list={useListState()} />;

const effect = {
  verdict: 'helped',
  clicks: 40,
  low: 12,
  high: 71,
  says: 'It helped.',
};

describe('the pane of changes', () => {
  const shown = (answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/changes': { kinds: [], hasPerformance: false }, ...answers });
    show(<Changes />, { at: '/refresh?view=changes' });
    return asked;
  };

  it('says what is missing where nothing can be measured', async () => {
    shown();
    expect(await screen.findByText('No change is known yet.')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Read or import search performance' })).toBeTruthy();
  });

  it('enters a change that no scan saw, and is ready for the next', async () => {
    const asked = shown({ 'POST /api/changes': { id: 1 } });
    expect(isDisabled('Enter')).toBe(true);
    write('Page', '/guides/first-kayak');
    write('Day', '2026-09-01');
    await choose('What', 'headings');
    write('Note', 'shorter');
    await press('Enter');
    await waitFor(() => expect(told()).toBe('Entered.'));
    expect(sent(asked)[0]!.body).toEqual({
      page: '/guides/first-kayak',
      day: '2026-09-01',
      kind: 'headings',
      note: 'shorter',
    });
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('Page').value).toBe(''));
    expect(isDisabled('Enter')).toBe(true);
  });

  it('tells beside the field what is refused, and keeps all that was entered', async () => {
    shown({ 'POST /api/changes': new Refusal(400, '“/nowhere” is no page of the site.', 'page') });
    write('Page', '/nowhere');
    write('Day', '2026-09-01');
    await press('Enter');
    expect(await screen.findByText('“/nowhere” is no page of the site.')).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Day').value).toBe('2026-09-01');
  });

  it('sums up each kind, with how many of them were measured', async () => {
    shown({
      'GET /api/changes': {
        kinds: [{ kind: 'text', name: 'texts', count: 5, measured: 3, effect }],
        hasPerformance: true,
      },
    });
    const row = (await screen.findByText('5 texts')).closest('tr')!;
    expect(row.textContent).toContain('3 measured');
    expect(screen.queryByRole('link', { name: 'Read or import search performance' })).toBeNull();
  });
});

const schedule = {
  nextOn: null,
  lists: 0,
  cost: 0,
  costPerMonth: 0,
  spentThisMonth: 0,
  monthlyBudget: 10,
  currency: 'EUR',
  lastOn: null,
  says: '',
};

describe('the schedule of captures', () => {
  const shown = (answers: Record<string, unknown> = {}) => {
    const asked = serve({
      'GET /api/settings': { capture: captureSettings },
      'GET /api/captures/schedule': schedule,
      'GET /api/lists': [{ id: 3, name: 'Suits', keywords: 12 }],
      ...answers,
    });
    show(<SchedulePart />);
    return asked;
  };

  it('is off until the days between are set, and keeps what captures cost', async () => {
    const asked = shown();
    expect(await screen.findByText(/^Off\. Set the number of days/)).toBeTruthy();
    write('Days between captures, 0 for never', '28');
    write('Budget of a month, EUR', '25');
    await choose('Keywords', 'the list “Suits”, 12 keywords');
    await press('Save the schedule');
    await waitFor(() => expect(told()).toBe('Saved.'));
    expect(sent(asked)[0]!.body).toEqual({
      ...captureSettings,
      recaptureDays: 28,
      monthlyBudget: 25,
      recaptureListId: 3,
    });
  });

  it('goes back to all keywords', async () => {
    const asked = shown({ 'GET /api/settings': { capture: { ...captureSettings, recaptureListId: 3 } } });
    await screen.findByText(/^Off/);
    await choose('Keywords', 'all that were captured');
    await press('Save the schedule');
    await waitFor(() => expect(sent(asked)[0]!.body).toMatchObject({ recaptureListId: null }));
  });

  it('says what the next run costs before it runs', async () => {
    shown({
      'GET /api/captures/schedule': { ...schedule, nextOn: '2026-12-20', lists: 120, cost: 0.24, costPerMonth: 0.5 },
    });
    expect((await screen.findByText(/120 lists would be due today/)).textContent).toContain('20 December 2026');
  });
});
