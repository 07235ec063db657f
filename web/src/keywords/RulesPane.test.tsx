import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { useListState } from '../pieces/useListState';
import { choose, press, Refusal, sent, serve, show, told, where, write } from '../testing';
import { ListsPane } from './ListsPane';
import { RulesPane } from './RulesPane';

const settings = {
  otherBrands: ['saltway', 'tern & gull'],
  intentRules: [
    {
      name: 'buying',
      intent: 'transactional',
      words: ['buy', 'price'],
      first: null,
      last: null,
      except: ['price list'],
    },
    { name: 'asking', intent: 'informational', words: null, first: ['how to'], last: null, except: null },
  ],
  questions: { words: null, first: ['how', 'why'], last: null, except: ['how-to'] },
  areOwnRules: true,
};

describe('the pane of the rules', () => {
  const shown = (answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/settings': settings, ...answers });
    show(<RulesPane close={() => undefined} />);
    return asked;
  };

  it('sends the names of others without blanks', async () => {
    const asked = shown();
    await screen.findByRole('button', { name: 'Save the names' });
    write('Brands and sellers, one a line', ' saltway \n\n oak,pine');
    await press('Save the names');
    await waitFor(() => expect(told()).toBe('Saved.'));
    expect(sent(asked)[0]!.body).toEqual(['saltway', 'oak', 'pine']);
  });

  it('changes, adds and deletes rules, and keeps their order', async () => {
    const asked = shown();
    await screen.findByRole('button', { name: 'Save the rules' });
    write('Words of rule 1, anywhere', 'buy, cheap,');
    fireEvent.click(screen.getAllByText('delete')[1]!);
    await press('Add a rule');
    expect((await screen.findByLabelText<HTMLInputElement>('Name of rule 2')).value).toBe('new rule');
    write('Name of rule 2', 'finding');
    write('Words of rule 2, last', 'near me');
    await press('Save the rules');
    await waitFor(() => expect(told()).toBe('Saved. Intents updated.'));
    expect(sent(asked)[0]!.body).toEqual([
      { name: 'buying', intent: 'transactional', words: ['buy', 'cheap'], first: [], last: [], except: ['price list'] },
      { name: 'finding', intent: 'informational', words: [], first: [], last: ['near me'], except: [] },
    ]);
  });

  it('says which rule is refused, and keeps what was entered', async () => {
    shown({ 'PUT /api/settings/intents': new Refusal(400, 'The rule “buying” has no words.', 'rules') });
    await screen.findByRole('button', { name: 'Save the rules' });
    write('Words of rule 1, anywhere', '');
    await press('Save the rules');
    expect(await screen.findByText('The rule “buying” has no words.')).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Words of rule 1, anywhere').value).toBe('');
  });

  it('goes back to the words of the language', async () => {
    const asked = shown();
    await press('Use the language’s own words');
    await waitFor(() => expect(sent(asked).map((a) => a.what)).toEqual(['DELETE /api/settings/intents']));
  });
});

describe('the pane of the lists', () => {
  const lists = [
    { id: 2, name: 'Suits', notes: 'for spring', keywords: 12, demand: 4300, captured: 3 },
    { id: 5, name: 'Bought', notes: '', keywords: 0, demand: 0, captured: 0 },
  ];
  const Pane = () => <ListsPane list={useListState()} close={() => undefined} />;
  const shown = (answers: Record<string, unknown> = {}) => {
    const asked = serve({ 'GET /api/lists': lists, ...answers });
    show(<Pane />, { at: '/keywords?pane=lists' });
    return asked;
  };

  it('tells of each how much of it is captured, and opens it', async () => {
    shown();
    const row = (await screen.findByText('Suits')).closest('tr')!;
    expect(row.textContent).toContain('12 keywords');
    expect(row.textContent).toContain('25 % captured');
    expect(screen.getByText('Bought').closest('tr')!.textContent).toContain('– captured');
    fireEvent.click(within(row).getByText('Suits'));
    expect(where()).toContain('listId=2');
  });

  it('renames a list, and tells a name that is taken', async () => {
    const asked = shown({ 'PUT /api/lists/{id}': new Refusal(400, 'There is a list “Bought”.', 'name') });
    fireEvent.click((await screen.findAllByText('change'))[0]!);
    write('Name of the list', 'Bought');
    await press('Save');
    expect(await screen.findByText('There is a list “Bought”.')).toBeTruthy();
    expect(sent(asked)[0]).toMatchObject({
      path: { id: 2 },
      body: { name: 'Bought', notes: 'for spring', selection: null },
    });
  });

  it('combines two lists, and says what that did', async () => {
    const asked = shown({ 'POST /api/lists/{id}/combine': { count: 4 } });
    fireEvent.click((await screen.findAllByText('change'))[0]!);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Combine' }).disabled).toBe(true);
    await choose('How', 'remove all of');
    await choose('The other list', 'Bought');
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Combine' }).disabled).toBe(false),
    );
    await press('Combine');
    await waitFor(() => expect(told()).toBe('4 keywords removed.'));
    expect(sent(asked)[0]!.body).toEqual({ how: 'subtract', otherId: 5 });
  });
});
