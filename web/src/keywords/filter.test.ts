import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { ListState } from '../pieces/useListState';
import { conditionsOf, filterKeys, filterOf, keysOf, queryOf, saysOf, selectionOf } from './filter';

/** A list whose address holds these. */
function list(address: Record<string, string>): ListState {
  const text = (name: string) => address[name];
  return {
    text,
    numeric: (name) => (address[name] === undefined ? undefined : Number(address[name])),
    set: () => undefined,
    listing: { Search: text('search'), Sort: text('sort'), Descending: undefined },
  };
}

const conditions = conditionsOf(
  [{ id: 7, name: 'Suits' } as never],
  [{ id: 3, label: 'research.csv', kind: 'file' } as never],
);
const says = (address: Record<string, string>) =>
  conditions.map((c) => saysOf(c, list(address))).filter((s) => s !== undefined);

describe('filter', () => {
  it('reads as a sentence', () => {
    expect(says({ minVolume: '1000', maxVolume: '5000' })).toEqual(['volume 1,000 to 5,000']);
    expect(says({ minVolume: '1000' })).toEqual(['volume from 1,000']);
    expect(says({ maxCpc: '0.5' })).toEqual(['cost per click up to 0.50']);
    expect(says({ wordsIn: 'best, cheap', allWordsIn: 'true' })).toEqual(['with all of: best, cheap']);
    expect(says({ wordsIn: 'best', wordsOut: 'used' })).toEqual(['with any of: best', 'without: used']);
    expect(says({ withoutBrands: 'true', questions: 'false' })).toEqual(['brands and sellers out', 'no questions']);
    expect(says({ listId: '7', notListId: '7', sourceId: '3' })).toEqual([
      'from research.csv',
      'in “Suits”',
      'not in “Suits”',
    ]);
  });

  it('tells a value that is no choice any more rather than hiding it', () => {
    expect(says({ listId: '99' })).toEqual(['list: 99']);
  });

  it('is silent about what is not set', () => {
    expect(says({})).toEqual([]);
    expect(filterOf(list({}))).toEqual({});
  });

  it('goes to the server with numbers as numbers and yes or no as such', () => {
    expect(filterOf(list({ minVolume: '10', questions: 'false', wordsIn: 'kayak', other: 'x' }))).toEqual({
      minVolume: 10,
      questions: false,
      wordsIn: 'kayak',
    });
    expect(queryOf(list({ search: 'suit', minVolume: '10' }))).toEqual({
      Search: 'suit',
      Sort: undefined,
      Descending: undefined,
      MinVolume: 10,
    });
  });

  it('keeps a zero, which is no missing bound', () => {
    expect(filterOf(list({ minVolume: '0' }))).toEqual({ minVolume: 0 });
    expect(says({ maxTitleMatches: '0' })).toEqual(['title matches up to 0']);
  });

  it('has every condition under keys that go to the server', () => {
    for (const condition of conditions) for (const key of keysOf(condition)) expect(filterKeys).toContain(key);
  });

  it('selects what is picked, and all in view where nothing is', () => {
    expect(selectionOf(list({ minVolume: '10' }), new Set([4, 5]))).toEqual({
      ids: [4, 5],
      filter: null,
      search: null,
    });
    expect(selectionOf(list({ minVolume: '10', search: 'x' }), new Set())).toEqual({
      ids: null,
      filter: { minVolume: 10 },
      search: 'x',
    });
  });

  // The server refuses a condition that it does not know, rather than leave it out.
  it('knows the same conditions as the server', () => {
    const api = JSON.parse(readFileSync('api.json', 'utf8')) as {
      components: { schemas: { KeywordFilter: { properties: object } } };
    };
    expect([...filterKeys].sort()).toEqual(Object.keys(api.components.schemas.KeywordFilter.properties).sort());
  });
});
