import { afterEach, describe, expect, it } from 'vitest';
import { note, take } from './changed';
import { isTouched, keyOf, type Area } from './keys';

const answer = (headers: Record<string, string>, status = 200) => new Response(null, { headers, status });
const areas = (...names: Area[]) => new Set(names);

afterEach(() => take());

describe('a query is read again', () => {
  it('where it reads something that was changed', () => {
    expect(isTouched(keyOf('clusters', '{}', 0), areas('clusters'))).toBe(true);
    expect(isTouched(keyOf('clusters', '{}', 0), areas('briefs'))).toBe(false);
    expect(isTouched(keyOf('settings'), areas('clusters', 'pageMap'))).toBe(false);
  });

  it('where it reads a bit of everything, and anything was changed', () => {
    expect(isTouched(keyOf('project'), areas('briefs'))).toBe(true);
    expect(isTouched(keyOf('project'), areas())).toBe(false);
  });

  it('where nobody knows what was changed, except for the jobs, which events tell', () => {
    expect(isTouched(keyOf('curve'), undefined)).toBe(true);
    expect(isTouched(['jobs'], undefined)).toBe(false);
  });

  it('where nobody knows what it reads', () => {
    expect(isTouched(['something new'], areas('plan'))).toBe(true);
  });
});

describe('what an answer says it changed', () => {
  it('is gathered until it is taken', () => {
    note(answer({ 'Jade-Changed': 'clusters,pageMap' }), 'PUT');
    note(answer({ 'Jade-Changed': 'plan', 'Jade-Step': 'Assign%20%E2%80%9Cdry%20suit%E2%80%9D' }), 'POST');
    expect(take()).toEqual({ areas: areas('clusters', 'pageMap', 'plan'), step: 'Assign “dry suit”' });
    expect(take()).toEqual({ areas: undefined, step: undefined });
  });

  it('is everything where one of them does not say so', () => {
    note(answer({ 'Jade-Changed': 'clusters' }), 'PUT');
    note(answer({}), 'PUT');
    note(answer({ 'Jade-Changed': 'plan' }), 'PUT');
    expect(take().areas).toBeUndefined();
  });

  it('is nothing where nothing was changed', () => {
    note(answer({ 'Jade-Changed': '' }, 409), 'PUT');
    expect(take().areas).toEqual(areas());
  });

  it('is not asked of what only reads', () => {
    note(answer({ 'Jade-Changed': 'clusters' }), 'GET');
    expect(take().areas).toBeUndefined();
  });
});
