import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { useListState } from '../pieces/useListState';
import { press, sent, serve, show, told, where, write } from '../testing';
import { FilterBar } from './FilterBar';

const Bar = () => <FilterBar list={useListState()} />;

function shown(at: string) {
  const asked = serve({
    'GET /api/lists': [{ id: 2, name: 'Suits', keywords: 12 }],
    'GET /api/keywords/sources': [],
    'GET /api/filters': [{ id: 4, name: 'Worth it', query: 'minVolume=50' }],
  });
  show(<Bar />, { at });
  return asked;
}

describe('the filter as a sentence', () => {
  it('says that all are shown where nothing is asked for', async () => {
    shown('/keywords');
    expect(await screen.findByText('Showing all keywords', { exact: false })).toBeTruthy();
    expect(screen.queryByText('show all')).toBeNull();
  });

  it('reads the conditions of the address, and takes one out', async () => {
    shown('/keywords?minVolume=50&wordsIn=dry suit&view=modifiers');
    await press('volume: volume from 50');
    write('volume to', '900');
    await waitFor(() => expect(where()).toContain('maxVolume=900'));
    await press('Take out');
    await waitFor(() => expect(where()).not.toContain('Volume'));
    expect(where()).toContain('wordsIn=dry');
    expect(where()).toContain('view=modifiers');
  });

  it('shows all again, but leaves the view as it is', async () => {
    shown('/keywords?minVolume=50&wordsIn=dry suit&view=modifiers&sort=-volume');
    fireEvent.click(await screen.findByText('show all'));
    await waitFor(() => expect(where()).not.toMatch(/minVolume|wordsIn/));
    expect(where()).toContain('view=modifiers');
    expect(where()).toContain('sort=-volume');
  });

  it('saves what is set by a name, and nothing of the view', async () => {
    const asked = shown('/keywords?minVolume=50&view=modifiers&id=7');
    fireEvent.click(await screen.findByText('saved filters'));
    write('Name of the filter', 'Mine');
    await press('Save');
    await waitFor(() => expect(told()).toBe('Saved.'));
    expect(sent(asked)).toMatchObject([{ what: 'PUT /api/filters', body: { name: 'Mine', query: 'minVolume=50' } }]);
  });

  it('uses a saved filter in the place of what is set', async () => {
    shown('/keywords?maxVolume=10&wordsIn=boat');
    fireEvent.click(await screen.findByText('saved filters'));
    fireEvent.click(await screen.findByText('Worth it'));
    await waitFor(() => expect(where()).toContain('minVolume=50'));
    expect(where()).not.toMatch(/maxVolume|wordsIn/);
  });

  it('deletes a saved filter', async () => {
    const asked = shown('/keywords');
    fireEvent.click(await screen.findByText('saved filters'));
    await press('Delete Worth it');
    await waitFor(() => expect(sent(asked)).toMatchObject([{ what: 'DELETE /api/filters/{id}', path: { id: 4 } }]));
  });
});
