import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { useListState } from '../pieces/useListState';
import { choose, press, Refusal, sent, serve, show, told, where, write } from '../testing';
import { BringPane } from './BringPane';

const Pane = () => (
  <BringPane
    close={() => undefined}
    list={useListState()}
    selection={{ ids: [4, 9], filter: null, search: null }}
    importFile={() => undefined}
  />
);

const lists = [{ id: 2, name: 'Suits', notes: '', keywords: 12, demand: 4300, captured: 3 }];
const gathered = {
  id: 8,
  state: 'done',
  label: 'Ideas for “kayak”',
  message: '40 keywords, 31 of them new.',
  canResume: false,
};

function shown(answers: Record<string, unknown> = {}) {
  const asked = serve({
    'GET /api/lists': lists,
    'GET /api/keywords/sources': [{ id: 6, name: 'ideas for “kayak”', keywords: 40 }],
    'GET /api/jobs/{id}': gathered,
    'POST /api/keywords/gather': { id: 8 },
    ...answers,
  });
  show(<Pane />, { at: '/keywords?view=modifiers' });
  return asked;
}

describe('the pane that brings keywords', () => {
  it('asks for ideas with what is ticked, into a list, and leads to what came', async () => {
    const asked = shown();
    write('Seeds, one a line', 'kayak\npaddle');
    fireEvent.click(screen.getByLabelText('related ones'));
    await choose('Also into the list', 'Suits');
    await press('Bring');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]!.body).toEqual({
      from: 'ideas',
      seeds: ['kayak', 'paddle'],
      containing: true,
      related: true,
      alphabet: false,
      questions: true,
      selection: null,
      add: true,
      listId: 2,
    });
    expect(await screen.findByText('40 keywords, 31 of them new.')).toBeTruthy();
    fireEvent.click(await screen.findByText('show what came'));
    expect(where()).toBe('/keywords?sourceId=6');
  });

  it('asks for questions of the results in view, without seeds', async () => {
    const asked = shown();
    fireEvent.click(screen.getByRole('radio', { name: 'Captured results' }));
    expect(screen.queryByLabelText(/one a line/)).toBeNull();
    fireEvent.click(screen.getByLabelText('questions people also ask'));
    await press('Bring');
    await waitFor(() => expect(sent(asked)).toHaveLength(1));
    expect(sent(asked)[0]!.body).toMatchObject({
      from: 'results',
      questions: false,
      related: false,
      selection: { ids: [4, 9] },
      listId: null,
    });
  });

  it('takes pasted keywords, says how many were known, and empties the field alone', async () => {
    const asked = shown({ 'POST /api/keywords/paste': { added: 1, known: 1, rejected: 1 } });
    fireEvent.click(screen.getByRole('radio', { name: 'Paste' }));
    await choose('Also into the list', 'Suits');
    write('Keywords, one a line', 'kayak\ndry suit\n—');
    await press('Bring');
    await waitFor(() => expect(told()).toBe('1 new keyword, 1 known, 1 line without a keyword.'));
    expect(sent(asked)[0]!.body).toEqual({ text: 'kayak\ndry suit\n—', listId: 2 });
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('Keywords, one a line').value).toBe(''));
    write('Keywords, one a line', 'canoe');
    await press('Bring');
    await waitFor(() => expect(sent(asked).at(-1)!.body).toEqual({ text: 'canoe', listId: 2 }));
  });

  it('says that no service is named', async () => {
    shown({ 'POST /api/keywords/gather': new Refusal(409, 'No research service is named.') });
    write('Seeds, one a line', 'kayak');
    await press('Bring');
    await waitFor(() => expect(told()).toBe('No research service is named.'));
    expect(screen.getByLabelText<HTMLInputElement>('Seeds, one a line').value).toBe('kayak');
  });
});
