import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import type { Schema } from '../api/client';
import { PlotMap } from './PlotMap';

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
