import { cleanup, render, screen, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schema } from '../api/client';
import { PlotMap } from './PlotMap';
import { PlotTable } from './PlotTable';

globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

const plot = (id: number, name: string, demand: number, mark: Schema['PlotView']['mark'], topicId: number | null) =>
  ({
    id,
    name,
    demand,
    mark,
    topicId,
    topicName: topicId === null ? null : `Topic ${topicId}`,
    pageUrl: null,
  }) as Schema['PlotView'];

afterEach(cleanup);

describe('PlotMap', () => {
  it('has a tile for each cluster, as large as its demand, its state told in words and not by colour alone', () => {
    render(
      <MemoryRouter>
        <PlotMap
          plots={[
            plot(1, 'dry suit', 9000, 'covered', 5),
            plot(2, 'wash a dry suit', 1000, 'uncovered', 5),
            plot(3, 'kayak insurance', 2000, 'contested', null),
          ]}
        />
      </MemoryRouter>,
    );
    const area = (name: RegExp) => {
      const { width, height } = screen.getByRole('button', { name }).style;
      return parseFloat(width) * parseFloat(height);
    };
    expect(area(/^dry suit, demand 9,000 a month, covered$/)).toBeGreaterThan(6 * area(/^wash a dry suit.*uncovered$/));
    expect(area(/^kayak insurance.*contested$/)).toBeGreaterThan(0);
    // A topic of one cluster needs no name of its own.
    expect(screen.getAllByRole('link').map((l) => l.textContent)).toEqual(['Topic 5']);
  });
});

describe('PlotTable', () => {
  it('tells the same as the map: every cluster with its demand, state, topic and page, most demand first', () => {
    render(
      <MemoryRouter>
        <PlotTable
          plots={[
            plot(1, 'wash a dry suit', 1000, 'uncovered', 5),
            { ...plot(2, 'dry suit', 9000, 'covered', 5), pageUrl: '/dry-suits' },
            plot(3, 'kayak insurance', 2000, 'contested', null),
          ]}
        />
      </MemoryRouter>,
    );
    const [, ...rows] = screen.getAllByRole('row');
    const cells = rows.map((row) =>
      within(row)
        .getAllByRole('cell')
        .map((cell) => cell.textContent?.trim()),
    );
    expect(cells).toEqual([
      ['dry suit', 'Topic 5', '9,000', '■ covered', '/dry-suits'],
      ['kayak insurance', '', '2,000', '◩ contested', ''],
      ['wash a dry suit', 'Topic 5', '1,000', '□ uncovered', ''],
    ]);
    expect(within(rows[0]!).getByRole('link', { name: 'dry suit' }).getAttribute('href')).toBe('/clusters?id=2');
  });
});
