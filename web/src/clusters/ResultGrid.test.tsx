import { render, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { ResultGrid } from './ResultGrid';

describe('ResultGrid', () => {
  it('has a row for each URL, own pages marked, and positions in the cells', () => {
    render(
      <ResultGrid
        grid={{
          columns: [
            { keywordId: 1, phrase: 'dry suit' },
            { keywordId: 2, phrase: 'dry suits' },
          ],
          rows: [
            { url: 'a.example', shared: 2, isOwn: false, positions: [1, 9] },
            { url: 'own.example/x', shared: 1, isOwn: true, positions: [0, 4] },
          ],
          hiddenColumns: 3,
          hiddenRows: 0,
        }}
      />,
    );
    const own = screen.getByText('own.example/x').closest('tr')!;
    expect(own.className).toMatch(/own/);
    expect(
      within(own)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual(['own.example/x', '', '4']);
    expect(screen.getByText(/3 less searched keywords/)).toBeTruthy();
  });
});
