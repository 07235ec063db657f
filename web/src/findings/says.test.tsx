import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { FindingLine, subject, type Finding } from './says';

const finding = (of: Partial<Finding>): Finding =>
  ({ key: 'no-page:1', clusterName: null, pageUrl: null, atStake: 0, remedyName: null, ...of }) as Finding;

describe('what findings say', () => {
  it('is about its cluster, else about its page', () => {
    expect(subject(finding({ clusterName: 'dry suit' }), undefined)).toBe('dry suit');
    expect(subject(finding({ pageUrl: 'https://fenwater.example/a' }), 'fenwater.example')).toBe('/a');
  });

  it('leads to itself, with what it says, what is at stake and what is to be done', () => {
    render(
      <MemoryRouter>
        <FindingLine
          finding={finding({
            key: 'rivals-in-results:1:2:3',
            name: 'rivals in results',
            group: 'cannibalization',
            sentence: '/a and /b appear in the same result lists.',
            atStake: 1234,
            remedyName: 'keep one, redirect the other',
          })}
        />
      </MemoryRouter>,
    );
    const link = screen.getByRole('link', { name: 'rivals in results' });
    expect(link.getAttribute('href')).toBe('/findings?id=rivals-in-results%3A1%3A2%3A3');
    expect(link.className).toBe('clay');
    expect(screen.getByText(/\/a and \/b appear in the same/)).toBeTruthy();
    expect(screen.getByText(/about 1,234 clicks a month/)).toBeTruthy();
    expect(screen.getByText('To do: keep one, redirect the other.')).toBeTruthy();
  });
});
