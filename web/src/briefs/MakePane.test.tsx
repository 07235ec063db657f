import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { choose, isDisabled, press, sent, serve, show, told, write } from '../testing';
import { MakePane } from './MakePane';

const settings = {
  capture: { currency: 'EUR' },
  briefs: {
    notes: 'plain and friendly',
    ignoredTerms: ['click here'],
    patterns: [
      { intent: 'informational', text: '{primary} explained' },
      { intent: null, text: '{primary} | {site}' },
    ],
    pricePerDraft: 0.05,
  },
};
const clusters = {
  rows: [
    { id: 1, name: 'kayak dry suit', demand: 2400 },
    { id: 2, name: 'kayak paddle', demand: 1200 },
  ],
};

function shown(answers: Record<string, unknown> = {}) {
  const asked = serve({
    'GET /api/clusters': clusters,
    'GET /api/settings': settings,
    'POST /api/briefs': { ids: [11] },
    ...answers,
  });
  const open = vi.fn();
  show(<MakePane selected={undefined} open={open} about={<p>about the list</p>} />);
  return { asked, open };
}

describe('the pane that makes briefs', () => {
  it('opens the brief that it made, where it is one', async () => {
    const { asked, open } = shown();
    expect(screen.getByText('about the list')).toBeTruthy();
    expect(isDisabled('Make the brief')).toBe(true);
    await choose('Clusters', 'kayak dry suit, 2,400');
    await press('Make the brief');
    await waitFor(() => expect(open).toHaveBeenCalledWith(11));
    expect(sent(asked)[0]!.body).toEqual({ clusterIds: [1] });
    expect(told()).toBe('1 brief made.');
  });

  it('makes several at once, and opens none of them', async () => {
    const { open } = shown({ 'POST /api/briefs': { ids: [11, 12] } });
    await choose('Clusters', 'kayak dry suit, 2,400');
    await choose('Clusters', 'kayak paddle, 1,200');
    await press('Make 2 briefs');
    await waitFor(() => expect(told()).toBe('2 briefs made.'));
    expect(open).not.toHaveBeenCalled();
    await waitFor(() => expect(isDisabled('Make the brief')).toBe(true));
  });

  it('keeps what all briefs share: lines without blanks, and intents only where they are some', async () => {
    const { asked } = shown();
    await screen.findByLabelText('Notes on tone and audience');
    expect(screen.getByLabelText<HTMLTextAreaElement>('Patterns of titles, one a line').value).toBe(
      'informational: {primary} explained\n{primary} | {site}',
    );
    write('Phrases that are no terms, one a line', 'click here\n\n read more ');
    write('Patterns of titles, one a line', 'commercial: Best {primary}\nKayaks: {primary}\n');
    await press('Save');
    await waitFor(() => expect(told()).toBe('Saved. Briefs follow it when their facts are updated.'));
    expect(sent(asked)[0]!.body).toEqual({
      notes: 'plain and friendly',
      ignoredTerms: ['click here', 'read more'],
      patterns: [
        { intent: 'commercial', text: 'Best {primary}' },
        { intent: null, text: 'Kayaks: {primary}' },
      ],
      pricePerDraft: 0.05,
    });
  });

  it('deletes the brief that is selected, which undo brings back', async () => {
    const asked = serve({
      'GET /api/clusters': clusters,
      'GET /api/settings': settings,
      'GET /api/briefs/{id}': {
        brief: {
          titles: [{ kind: 'title', text: 'Kayak dry suits' }],
          wants: 'They want to compare.',
          keywords: [{ phrase: 'kayak dry suit' }],
          outline: { sections: [] },
          questions: [],
          terms: [],
        },
        row: { primary: 'kayak dry suit' },
        history: [{ says: 'made' }],
      },
    });
    show(<MakePane selected={11} open={() => undefined} about={<p>about the list</p>} />);
    expect(await screen.findByText('Kayak dry suits')).toBeTruthy();
    expect(screen.queryByText('about the list')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Delete' }));
    await waitFor(() => expect(told()).toBe('Brief deleted.'));
    expect(sent(asked)).toMatchObject([{ what: 'DELETE /api/briefs/{id}', path: { id: 11 } }]);
  });
});
