import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { press, sent, serve, show, told } from '../testing';
import { DraftPart } from './DraftPart';

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

type Written = Schema['WrittenText'];
const text = (kind: Written['kind'], says: string, more: Partial<Written> = {}): Written => ({
  kind,
  text: says,
  for: '',
  isAccepted: false,
  ...more,
});

const brief = {
  keywords: [{ phrase: 'dry suit' }, { phrase: 'dry suit size' }],
  questions: ['Which size?'],
  terms: [{ text: 'latex seal' }],
  outline: { sections: [{ level: 2, heading: 'Sizes', keywords: [1], questions: [0], terms: [0] }] },
};

function part(written: Written[], more: object = {}) {
  const asked = serve({
    'POST /api/briefs/{id}/draft': { texts: ['one', 'two'] },
    'PUT /api/briefs/{id}': {},
  });
  const view = {
    brief,
    edits: { written, intro: 'kept' },
    row: { id: 3 },
    version: 'v7',
    drafting: { price: 0.02, currency: 'EUR' },
    ...more,
  } as unknown as Schema['BriefView'];
  show(<DraftPart view={view} section={brief.outline.sections[0] as never} />);
  return asked;
}

/** What was sent of the planner's edits. */
const edits = (asked: ReturnType<typeof part>) =>
  (sent(asked)[0]!.body as { edits: Record<string, unknown>; version: string }).edits;

describe('drafted texts', () => {
  it('cost what is said before they are asked for', async () => {
    const asked = part([]);
    await press(/^Ask for a draft, 0\.0?2/);
    fireEvent.click(await screen.findByText('Answer: Which size?'));
    await waitFor(() => expect(told()).toBe('2 texts to choose from. None is used until you accept it.'));
    expect(sent(asked)[0]).toMatchObject({ path: { id: 3 }, body: { kind: 'answer', for: 'Which size?' } });
  });

  it('cannot be asked for without a service, and nothing needs them', () => {
    part([], { drafting: null });
    expect(screen.getByText(/Everything here works without it/)).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('that are a title take its place, and the other proposals go', async () => {
    const asked = part([
      text('title', 'First'),
      text('title', 'Second'),
      text('introduction', 'Once', { isAccepted: true }),
    ]);
    fireEvent.click(screen.getAllByRole('button', { name: 'Accept' })[1]!);
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(edits(asked)).toMatchObject({
      title: 'Second',
      written: [{ kind: 'introduction', isAccepted: true }],
      intro: 'kept',
    });
    expect(sent(asked)[0]!.body).toMatchObject({ version: 'v7' });
  });

  it('that are an outline keep what is known of headings that stay', async () => {
    const asked = part([text('outline', 'Sizes\n\n  Care \n')]);
    await press('Accept');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(edits(asked).outline).toEqual([
      {
        level: 2,
        heading: 'Sizes',
        keywords: ['dry suit size'],
        questions: ['Which size?'],
        terms: ['latex seal'],
      },
      expect.objectContaining({ heading: 'Care', keywords: [] }),
    ]);
    expect(edits(asked).written).toEqual([]);
  });

  it('of one place replace the one that was accepted there, and no other', async () => {
    const asked = part([
      text('section', 'Old words', { for: 'Sizes', isAccepted: true }),
      text('section', 'Care words', { for: 'Care', isAccepted: true }),
      text('section', 'New words', { for: 'Sizes' }),
    ]);
    await press('Accept');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(edits(asked).written).toEqual([
      text('section', 'Care words', { for: 'Care', isAccepted: true }),
      text('section', 'New words', { for: 'Sizes', isAccepted: true }),
    ]);
  });

  it('are discarded, or taken out again', async () => {
    const asked = part([text('introduction', 'Once', { isAccepted: true }), text('introduction', 'Twice')]);
    await press('Discard');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(edits(asked).written).toEqual([text('introduction', 'Once', { isAccepted: true })]);
    expect(screen.getByRole('button', { name: 'Take out' })).toBeTruthy();
  });
});
