import type { Schema } from '../api/client';

/** What a kind of source is called. */
export const sourceNouns: Record<NonNullable<Schema['SourceKind']>, string> = {
  file: 'file',
  paste: 'pasted',
  research: 'research service',
  suggestions: 'suggestions service',
  rankings: 'rankings',
  performance: 'own search performance',
  results: 'captured results',
  hand: 'you',
};
