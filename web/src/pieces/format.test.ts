import { describe, expect, it } from 'vitest';
import { counted, day, decimal, number, percent, shortUrl } from './format';

describe('format', () => {
  it('tells unknown from zero', () => {
    expect(number(null)).toBe('–');
    expect(number(0)).toBe('0');
    expect(decimal(undefined, 2)).toBe('–');
  });
  it('groups thousands and names counts', () => {
    expect(number(1234567)).toBe('1,234,567');
    expect(counted(1, 'page')).toBe('1 page');
    expect(counted(2000, 'page')).toBe('2,000 pages');
    expect(percent(0.314)).toBe('31 %');
    expect(day('2026-11-12')).toBe('12 November 2026');
  });
  it('shows own pages by their path and others without the scheme', () => {
    expect(shortUrl('https://www.fenwater.example/dry-suits', 'fenwater.example')).toBe('/dry-suits');
    expect(shortUrl('https://fenwater.example', 'fenwater.example')).toBe('/');
    expect(shortUrl('http://a.example/x', 'fenwater.example')).toBe('a.example/x');
  });
});
