import { act, renderHook } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Column } from './DataTable';
import { fitting, inOrder, leastWidth, useColumns } from './useColumns';

type Row = { id: number };
const column = (key: string, width: string, yields?: number): Column<Row> => ({
  key,
  title: key,
  width,
  yields,
  render: (r) => r.id,
});
const columns = [
  column('name', 'minmax(100px, 2fr)'),
  column('season', '90px', 2),
  column('cohesion', '50px', 1),
  column('page', 'minmax(100px, 1fr)'),
];
const keys = (shown: Column<Row>[]) => shown.map((c) => c.key).join(' ');

beforeEach(() => localStorage.clear());

describe('columns', () => {
  it.each([
    ['80px', 80],
    ['minmax(150px, 2fr)', 150],
    ['1fr', 60],
  ])('have a least width: %s is %d pixels', (track, width) => expect(leastWidth(track)).toBe(width));

  // Each takes its least width and a gap of 10 pixels: 110, 100, 60 and 110.
  it.each([
    [0, 'name season cohesion page'],
    [380, 'name season cohesion page'],
    [379, 'name season page'],
    [320, 'name season page'],
    [319, 'name page'],
    [10, 'name page'],
  ])('yield from the lowest number on: with room for %d pixels there are %s', (room, shown) =>
    expect(keys(fitting(columns, {}, room))).toBe(shown),
  );

  it('that were chosen stay, however little room there is, and those that were not are not shown', () => {
    expect(keys(fitting(columns, { shown: { cohesion: true, page: false } }, 10))).toBe('name cohesion');
  });

  it('are in the order that was chosen; new ones keep their place', () => {
    expect(keys(inOrder(columns, ['page', 'name', 'season', 'cohesion']))).toBe('page name season cohesion');
    expect(keys(inOrder(columns, undefined))).toBe('name season cohesion page');
    expect(keys(inOrder(columns, ['season', 'name']))).toContain('cohesion');
  });
});

describe('what was changed about a table', () => {
  const hook = () => renderHook(() => useColumns('clusters', columns, 1000));

  it('is remembered, for that table alone', () => {
    const { result } = hook();
    act(() => result.current.show('season', false));
    act(() => result.current.moveBefore('page', 'name'));
    act(() => result.current.resize('name', 222.4));
    expect(keys(result.current.shown)).toBe('page name cohesion');
    expect(result.current.template).toBe('minmax(100px, 1fr) 222px 50px');
    expect(keys(hook().result.current.shown)).toBe('page name cohesion');
    expect(keys(renderHook(() => useColumns('pages', columns, 1000)).result.current.shown)).toBe(
      'name season cohesion page',
    );
  });

  it('can be reset', () => {
    const { result } = hook();
    act(() => result.current.moveBefore('name', undefined));
    expect(keys(result.current.shown)).toBe('season cohesion page name');
    act(() => result.current.reset());
    expect(keys(result.current.shown)).toBe('name season cohesion page');
    expect(localStorage.length).toBe(0);
  });

  it('makes no column too narrow to be grabbed again', () => {
    const { result } = hook();
    act(() => result.current.resize('name', -50));
    expect(result.current.template).toMatch(/^24px /);
  });

  it('is left aside where it cannot be read', () => {
    localStorage.setItem('jade-orchard.columns.clusters', '{broken');
    expect(keys(hook().result.current.shown)).toBe('name season cohesion page');
  });
});
