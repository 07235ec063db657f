import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { isDisabled, press, Refusal, sent, serve, show, told, where, write } from '../testing';
import { FindingPane } from './FindingPane';

const finding = {
  key: 'conflict:1',
  kind: 'conflict',
  name: 'conflict',
  subject: '/hire and /places',
  says: 'traffic splits, both rank',
  atStake: 391,
  state: 'open',
  version: 'v1',
  reason: null,
  remedyName: null,
  firstFoundAt: '2026-11-24',
  pages: [{ id: 1, url: 'https://fenwater.example/hire' }],
  clusterId: 8,
  clusterName: 'kayak hire',
  assignee: '',
  note: '',
};
const sign = (atStake: number, ...keywordIds: (number | null)[]) => ({
  kind: 'splitTraffic',
  name: 'split traffic',
  sentence: 'The impressions go to several pages.',
  clusterId: 8,
  clusterName: `kayak hire ${atStake}`,
  page: null,
  others: [],
  otherCount: 0,
  atStake,
  facts: keywordIds.map((keywordId) => ({
    keywordId,
    keyword: 'kayak hire',
    volume: 100,
    position: 3,
    otherPosition: 5,
    atStake: 1,
    share: 0.4,
    count: 1,
  })),
  factCount: keywordIds.length,
  words: [],
});
const detail = {
  finding,
  pages: [],
  signs: [sign(300, 1, 2), sign(91, 2, null)],
  terms: [],
  rivals: [],
  advice: 'Keep one of them.',
  certainty: 'Sure: 2 kinds of sign.',
  step: null,
};

function shown(changes: object = {}, answers: Record<string, unknown> = {}, dismissing = false) {
  const asked = serve({
    'GET /api/findings/{key}': { ...detail, finding: { ...finding, ...changes } },
    'PUT /api/findings/{key}': { subject: '/hire and /places', state: 'dismissed' },
    ...answers,
  });
  const [decide, setDismissing] = [vi.fn(), vi.fn()];
  show(
    <FindingPane
      findingKey="conflict:1"
      host="fenwater.example"
      dismissing={dismissing}
      setDismissing={setDismissing}
      decide={decide}
    />,
    { at: '/findings' },
  );
  return { asked, decide, setDismissing };
}

describe('the pane of a finding', () => {
  it('says what it is, what it is worth and by what it shows itself, each keyword once', async () => {
    shown();
    expect(await screen.findByText(/^Traffic splits, both rank\./)).toBeTruthy();
    expect(screen.getByText('391', { selector: 'p b' }).closest('p')!.textContent).toContain(
      'clicks a month are at stake',
    );
    const sign = screen.getByText('Split traffic', { selector: 'td' }).closest('tr')!;
    expect([...sign.querySelectorAll('td')].map((td) => td.textContent)).toEqual(['Split traffic', '2', '391']);
    expect(screen.getByText('Sure: 2 kinds of sign.')).toBeTruthy();
  });

  it('is decided by its version, or side by side where it is a conflict', async () => {
    const { decide } = shown();
    await press(/^Accept/);
    expect(decide).toHaveBeenCalledWith('accepted', 'v1');
    await press(/^Resolved/);
    expect(decide).toHaveBeenLastCalledWith('resolved', 'v1');
    expect(screen.queryByRole('button', { name: /^Open again/ })).toBeNull();
    await press(/side by side/);
    expect(where()).toBe('/findings/conflict?key=conflict%3A1');
  });

  it.each([
    ['accepted', /^Accept/],
    ['resolved', /^Resolved/],
    ['dismissed', /^Dismiss/],
  ])('offers everything but what it is: %s', async (state, itself) => {
    shown({ state, reason: 'as agreed' });
    expect(await screen.findByRole('button', { name: /^Open again/ })).toBeTruthy();
    expect(screen.queryByRole('button', { name: itself })).toBeNull();
    expect(screen.getByText(state).closest('p')!.textContent).toContain('because: as agreed');
  });

  it('is dismissed with a reason', async () => {
    const { asked, setDismissing } = shown({}, {}, true);
    await screen.findByLabelText('Why is it left as it is?');
    expect(isDisabled('Dismiss')).toBe(true);
    write('Why is it left as it is?', 'both are wanted');
    await press('Dismiss');
    await waitFor(() => expect(told()).toBe('/hire and /places: dismissed.'));
    expect(sent(asked)[0]).toMatchObject({
      path: { key: 'conflict:1' },
      body: { state: 'dismissed', reason: 'both are wanted', version: 'v1' },
    });
    expect(setDismissing).toHaveBeenCalledWith(false);
  });

  it('keeps the reason where somebody else decided meanwhile', async () => {
    const { setDismissing } = shown({}, { 'PUT /api/findings/{key}': new Refusal(409, 'Changed meanwhile.') }, true);
    await screen.findByLabelText('Why is it left as it is?');
    write('Why is it left as it is?', 'both are wanted');
    await press('Dismiss');
    await waitFor(() => expect(told()).toBe('Changed meanwhile.'));
    expect(setDismissing).not.toHaveBeenCalled();
    expect(screen.getByLabelText<HTMLInputElement>('Why is it left as it is?').value).toBe('both are wanted');
  });

  it('says that it could not be loaded, and tries again on request', async () => {
    let fails = true;
    shown(
      {},
      {
        'GET /api/findings/{key}': () => (fails ? new Refusal(404, 'There is no finding conflict:1.') : detail),
      },
    );
    expect(await screen.findByText('There is no finding conflict:1.')).toBeTruthy();
    fails = false;
    fireEvent.click(screen.getByRole('button', { name: /again/i }));
    expect(await screen.findByText(/^Traffic splits/)).toBeTruthy();
  });
});
