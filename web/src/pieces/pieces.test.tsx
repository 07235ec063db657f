import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { money, sentenceCase, timeLeft } from './format';
import { Failed, NotYet } from './States';
import { Tally } from './Tally';

afterEach(cleanup);

describe('format', () => {
  it('tells time left and money in words', () => {
    expect(timeLeft(0)).toBe('1 s left');
    expect(timeLeft(59)).toBe('59 s left');
    expect(timeLeft(150)).toBe('about 3 min left');
    expect(money(0.0024, 'EUR')).toBe('0.002 EUR');
    expect(money(2.4, 'EUR')).toBe('2.40 EUR');
    expect(sentenceCase('page swap')).toBe('Page swap');
  });
});

describe('Tally', () => {
  const tally = { rows: 1, keywords: 12, demand: 4300, meanDifficulty: null, atStake: 0, captured: 0 };
  it('says units, and one row as one', () => {
    const { container } = render(
      <Tally tally={tally} noun="cluster" keywords difficulty atStake="at stake" captured />,
    );
    expect(container.textContent).toContain('1 cluster');
    expect(container.textContent).not.toContain('1 clusters');
    expect(container.textContent).toContain('demand 4,300 a month, estimated');
    expect(container.textContent).toContain('mean difficulty –');
    expect(container.textContent).toContain('at stake 0 clicks a month');
  });
  it('has no share of nothing', () => {
    const { container } = render(<Tally tally={{ ...tally, rows: 0 }} noun="cluster" captured />);
    expect(container.textContent).toContain('captured –');
  });
  it('says that it is counting', () => {
    render(<Tally tally={undefined} noun="cluster" />);
    expect(screen.getByText('counting…')).toBeTruthy();
  });
});

describe('states of a view', () => {
  it('tells failed from not yet, with a way on', () => {
    const retry = vi.fn();
    render(<Failed error={new Error('The project is locked.')} retry={retry} />);
    expect(screen.getByRole('alert').textContent).toContain('The project is locked.');
    fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
    expect(retry).toHaveBeenCalledOnce();
    cleanup();
    render(<NotYet title="No keywords yet">Bring some.</NotYet>);
    expect(screen.queryByRole('alert')).toBeNull();
  });
});
