import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { FindingLine, stateOf, type Finding } from './says';

const finding = (of: Partial<Finding>): Finding =>
  ({ key: 'uncovered:1', kind: 'uncovered', atStake: 0, remedyName: null, state: 'open', ...of }) as Finding;

describe('what findings say', () => {
  it('is what was decided, else the state', () => {
    expect(stateOf(finding({ state: 'dismissed' }))).toBe('dismissed');
    expect(stateOf(finding({ state: 'accepted' }))).toBe('accepted');
    expect(stateOf(finding({ state: 'accepted', remedyName: 'merge them' }))).toBe('merge them');
  });

  it('leads to itself, with what it says, what is at stake and what is to be done', () => {
    render(
      <MemoryRouter>
        <FindingLine
          finding={finding({
            key: 'conflict:2:3',
            kind: 'conflict',
            name: 'conflict',
            subject: '/a and /b',
            says: 'both rank, traffic splits',
            atStake: 1234,
            remedyName: 'keep one, redirect the other',
          })}
        />
      </MemoryRouter>,
    );
    const link = screen.getByRole('link', { name: 'conflict' });
    expect(link.getAttribute('href')).toBe('/findings?id=conflict%3A2%3A3');
    expect(link.className).toMatch(/clay/);
    expect(screen.getByText(/\/a and \/b: both rank, traffic splits\./)).toBeTruthy();
    expect(screen.getByText(/about 1,234 clicks a month/)).toBeTruthy();
    expect(screen.getByText('To do: keep one, redirect the other.')).toBeTruthy();
  });
});
