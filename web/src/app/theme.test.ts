import { describe, expect, it } from 'vitest';
import { dark, light, type Tokens } from './theme';

/** Relative luminance (WCAG 2.2, glossary). */
function luminance(colour: string) {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

/** Contrast ratio of two colours (WCAG 2.2, glossary), 1 to 21. */
function contrast(a: string, b: string) {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (high! + 0.05) / (low! + 0.05);
}

const grounds = ['paper', 'sheet', 'jade05', 'jade1'] as const;
const texts = ['ink', 'ink2', 'ink3', 'jade', 'clay'] as const;

describe('contrast', () => {
  it('is what the definition gives for its own examples', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    // The lightest grey that is enough on white (common knowledge of the trade).
    expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
  });

  describe.each([
    ['by day', light],
    ['by night', dark],
  ] as [string, Tokens][])('%s', (_, tokens) => {
    it.each(texts.flatMap((text) => grounds.map((ground) => [text, ground] as const)))(
      'of %s on %s is enough for text (WCAG 2.2, 1.4.3)',
      (text, ground) => {
        // Quiet text becomes second text on a selected row.
        if (text === 'ink3' && ground === 'jade1') return;
        expect(contrast(tokens[text], tokens[ground])).toBeGreaterThanOrEqual(4.5);
      },
    );

    it('of the top bar is enough for text', () => {
      expect(contrast(tokens.barInk, tokens.bar)).toBeGreaterThanOrEqual(4.5);
      expect(contrast(tokens.barSoft, tokens.bar)).toBeGreaterThanOrEqual(4.5);
    });

    it('of the focus ring is enough for a part of the interface (WCAG 2.2, 1.4.11)', () => {
      for (const ground of grounds) expect(contrast(tokens.jade5, tokens[ground])).toBeGreaterThanOrEqual(3);
    });
  });
});
