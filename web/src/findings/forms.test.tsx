import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { isDisabled, press, Refusal, sent, serve, show, told, where, write } from '../testing';
import { Decide } from './ConflictDecide';
import type { View } from './ConflictScreen';
import { CurvePane } from './CurvePane';

const page = (id: number, path: string) => ({ page: { id, url: `https://fenwater.example${path}` } });

const view = (changes: Partial<View> = {}) =>
  ({
    finding: { key: 'conflict:1', version: 'v1' },
    pages: [page(1, '/hire'), page(2, '/places')],
    signs: ['Both rank for the same keywords.'],
    step: null,
    ...changes,
  }) as unknown as View;

function decide(of: View, answers: Record<string, unknown> = {}) {
  const asked = serve({ 'POST /api/conflicts/{key}/decision': { remedyName: 'keep one' }, ...answers });
  show(<Decide view={of} host="fenwater.example" />, { at: '/findings/conflict' });
  return asked;
}

describe('the decision about a conflict', () => {
  it('is chosen by its number, keeps the page that is ahead, and leads back to the finding', async () => {
    const asked = decide(view());
    expect(isDisabled('Decide')).toBe(true);
    fireEvent.keyDown(document.body, { key: '2' });
    fireEvent.click(screen.getByRole('radio', { name: '/places' }));
    write('Note, for whoever does it', 'in spring');
    await press('Decide');
    await waitFor(() => expect(told()).toBe('Decided: keep one. It is a step of the plan now.'));
    expect(sent(asked)[0]).toMatchObject({
      path: { key: 'conflict:1' },
      body: { decision: 'merge', keepPageId: 2, note: 'in spring', version: 'v1' },
    });
    await waitFor(() => expect(where()).toBe('/findings?id=conflict%3A1'));
  });

  it('wants a reason to leave things as they are, and then asks for no page', async () => {
    const asked = decide(view());
    fireEvent.click(screen.getByRole('radio', { name: /Leave it as it is/ }));
    await waitFor(() => expect(screen.queryByRole('radio', { name: '/hire' })).toBeNull());
    expect(isDisabled('Decide')).toBe(true);
    write('Why?', 'both are wanted');
    await press('Decide');
    await waitFor(() => expect(sent(asked)[0]!.body).toMatchObject({ decision: 'leave', note: 'both are wanted' }));
  });

  it('does not take numbers that are written into the note', async () => {
    decide(view());
    fireEvent.keyDown(screen.getByLabelText('Note, for whoever does it'), { key: '1' });
    expect(screen.getAllByRole<HTMLInputElement>('radio').filter((r) => r.checked && r.value === 'redirect')).toEqual(
      [],
    );
  });

  it('offers what is possible with one page, and only that', () => {
    decide(view({ pages: [page(1, '/hire')] as never }));
    expect(screen.queryByRole('radio', { name: /redirect the others/ })).toBeNull();
    expect(screen.getByRole('radio', { name: /Give the others a new target/ })).toBeTruthy();
  });

  it('shows what was decided, and withdraws it', async () => {
    const step = { remedy: 'redirect', remedyName: 'keep one', pageId: 2, note: 'as agreed', waits: true };
    const asked = decide(view({ step: step as never }));
    expect(screen.getByText('keep one')).toBeTruthy();
    expect(screen.getByRole<HTMLInputElement>('radio', { name: /Keep one/ }).checked).toBe(true);
    expect(screen.getByRole<HTMLInputElement>('radio', { name: '/places' }).checked).toBe(true);
    fireEvent.click(screen.getByText('take it back'));
    await waitFor(() => expect(told()).toBe('Decision withdrawn; the finding is open again.'));
    expect(sent(asked).map((a) => a.what)).toEqual(['DELETE /api/conflicts/{key}/decision']);
  });

  it('says that somebody else decided meanwhile', async () => {
    decide(view(), {
      'POST /api/conflicts/{key}/decision': new Refusal(409, 'This was changed meanwhile in another window.'),
    });
    fireEvent.keyDown(document.body, { key: '1' });
    await press('Decide');
    await waitFor(() => expect(told()).toBe('This was changed meanwhile in another window.'));
    expect(where()).toBe('/findings/conflict');
  });
});

// Finer than they are shown: what is not touched stays so.
const shares = [0.2834, 0.1512, 0.1, 0.07, 0.05, 0.04, 0.03, 0.0251, 0.02, 0.018, 0.01, 0.002];
const curve = {
  isFitted: false,
  queries: 0,
  clicks: 0,
  fewestClicks: 500,
  fewestQueries: 50,
  used: Array.from({ length: 20 }, (_, i) => shares[Math.min(i, 11)]!),
  byHand: Array.from({ length: 20 }, (_, i) => shares[Math.min(i, 11)]!),
  defaultValues: shares,
  seen: [],
  supports: [],
  settings: { values: null, isFitted: true },
};

describe('the click curve', () => {
  const shown = async (answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/curve': curve, ...answers });
    show(<CurvePane />);
    fireEvent.click(await screen.findByText('change the curve'));
    return asked;
  };

  it('is entered in per cent and sent in shares', async () => {
    const asked = await shown();
    write('Share of clicks, position 1', '40');
    fireEvent.click(screen.getByRole('checkbox'));
    await press('Use this curve');
    await waitFor(() => expect(told()).toBe('Curve saved.'));
    expect(sent(asked)[0]!.body).toEqual({ isFitted: false, values: [0.4, ...shares.slice(1)] });
    expect(screen.queryByRole('button', { name: 'Use this curve' })).toBeNull();
  });

  it('stays open with what was entered where it is refused', async () => {
    await shown({
      'PUT /api/settings/curve': new Refusal(
        400,
        'Position 2 cannot get a greater share than the one above.',
        'values',
      ),
    });
    write('Share of clicks, position 1', '5');
    await press('Use this curve');
    expect((await screen.findByRole('alert')).textContent).toMatch(/^Position 2 cannot/);
    expect(screen.getByLabelText<HTMLInputElement>('Share of clicks, position 1').value).toBe('5.0');
  });

  it('goes back to the default', async () => {
    const asked = await shown();
    await press('Back to the default');
    await waitFor(() => expect(sent(asked)[0]!.body).toEqual({ values: null, isFitted: true }));
  });

  it('says from where it comes', async () => {
    serve({ 'GET /api/curve': { ...curve, isFitted: true, queries: 1200 } });
    show(<CurvePane />);
    expect(await screen.findByText(/^Fitted to 1,200 queries of the site’s own search performance/)).toBeTruthy();
  });
});
