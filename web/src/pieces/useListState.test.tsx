import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';
import { describe, expect, it } from 'vitest';
import { exportUrl, useListState } from './useListState';

const at = (address: string) =>
  renderHook(() => ({ list: useListState(), where: useLocation().search }), {
    wrapper: ({ children }: { children: ReactNode }) => (
      <MemoryRouter initialEntries={[address]}>{children}</MemoryRouter>
    ),
  }).result;

describe('useListState', () => {
  it('is read from the address', () => {
    const { list } = at('/keywords?search=dry+suit&sort=volume&down=1&minVolume=10&maxVolume=many').current;
    expect(list.listing).toEqual({ Search: 'dry suit', Sort: 'volume', Descending: true });
    expect(list.numeric('minVolume')).toBe(10);
    expect(list.numeric('maxVolume')).toBeUndefined();
    expect(list.text('none')).toBeUndefined();
  });

  it('is kept in the address, and what is empty is dropped from it', () => {
    const result = at('/keywords?search=suit&page=2');
    act(() => result.current.list.set({ search: '', minVolume: 0, page: undefined }));
    expect(result.current.where).toBe('?minVolume=0');
    expect(result.current.list.numeric('minVolume')).toBe(0);
  });
});

describe('exportUrl', () => {
  it('carries the filter and escapes it', () => {
    expect(exportUrl('/api/keywords.csv', { WordsIn: 'a & b', MinVolume: 0, Search: undefined, Sort: null })).toBe(
      '/api/keywords.csv?WordsIn=a+%26+b&MinVolume=0',
    );
    expect(exportUrl('/api/keywords.csv', {})).toBe('/api/keywords.csv');
  });
});
