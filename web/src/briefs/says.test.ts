import { describe, expect, it } from 'vitest';
import { emptySection, join, split } from './says';

const section = {
  ...emptySection('Fit and sizes'),
  keywords: ['dry suit sizes', 'tall'],
  questions: ['How tight?'],
  terms: ['relief zip'],
};

describe('sections of an outline', () => {
  it('are split so that each serves half', () => {
    const [first, second] = split(section);
    expect(first).toEqual({ ...section, questions: [], terms: [] });
    expect(second).toEqual({ ...emptySection('How tight?'), questions: ['How tight?'], terms: ['relief zip'] });
  });
  it('are split into a heading to rename where there is nothing to share', () => {
    expect(split(emptySection('Care', 3))[1]).toEqual(emptySection('Care, continued', 3));
  });
  it('are joined without losing or doubling what they serve', () => {
    const [first, second] = split(section);
    expect(join(first!, second!)).toEqual(section);
    expect(join(section, section)).toEqual(section);
  });
});
