import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { FindingLine, isConflict, kindName, kinds, remedies, sentence, subject, type Finding } from './says';

const finding = (of: Partial<Finding>): Finding =>
  ({
    key: 'no-page:1',
    kind: 'noPage',
    state: 'open',
    clusterName: null,
    pageUrl: null,
    otherPageUrl: null,
    otherClusterName: null,
    atStake: 0,
    remedy: null,
    isPageDecided: false,
    ...of,
  }) as Finding;

describe('what findings say', () => {
  it('has a name, a remedy and a sentence with its pages for every kind', () => {
    for (const { value } of kinds) {
      expect(kindName(value)).toMatch(/^[a-z ]{5,}$/);
      expect(remedies[value].length).toBeGreaterThan(20);
      const says = sentence(
        finding({
          kind: value,
          pageUrl: 'https://www.fenwater.example/suits',
          otherPageUrl: 'https://fenwater.example/guide',
          otherClusterName: 'kayak insurance',
        }),
        'fenwater.example',
      );
      expect(says).toMatch(/\.$/);
      expect(says).not.toContain('undefined');
      expect(says).not.toContain('null');
      expect(says).not.toContain('https://');
    }
  });

  it('tells an assigned page from a suggested one', () => {
    const absent = { kind: 'absent', pageUrl: 'https://fenwater.example/a' } as const;
    expect(sentence(finding({ ...absent, isPageDecided: true }), 'fenwater.example')).toContain('the assigned page');
    expect(sentence(finding(absent), 'fenwater.example')).toContain('the suggested page');
    expect(sentence(finding({ kind: 'absent' }), 'fenwater.example')).toContain('No page of the site');
  });

  it('is about its cluster, else about its page', () => {
    expect(subject(finding({ clusterName: 'dry suit' }), undefined)).toBe('dry suit');
    expect(subject(finding({ pageUrl: 'https://fenwater.example/a' }), 'fenwater.example')).toBe('/a');
  });

  it('is a conflict where pages stand in each other’s way', () => {
    expect(kinds.filter((k) => isConflict(k.value)).map((k) => k.says)).toEqual([
      'rivals in results',
      'split traffic',
      'page swap',
      'wrong page ranks',
      'shared target',
      'mixed target',
      'twin titles',
    ]);
  });

  it('leads to itself, with what is at stake and what is to be done', () => {
    render(
      <MemoryRouter>
        <FindingLine
          finding={finding({
            key: 'rivals-in-results:1:2:3',
            kind: 'rivalsInResults',
            atStake: 1234,
            remedy: 'redirect',
            pageUrl: 'https://fenwater.example/a',
            otherPageUrl: 'https://fenwater.example/b',
          })}
          host="fenwater.example"
        />
      </MemoryRouter>,
    );
    expect(screen.getByRole('link', { name: 'rivals in results' }).getAttribute('href')).toBe(
      '/findings?id=rivals-in-results%3A1%3A2%3A3',
    );
    expect(screen.getByText(/about 1,234 clicks a month/)).toBeTruthy();
    expect(screen.getByText('To do: keep one, redirect the other.')).toBeTruthy();
  });
});
