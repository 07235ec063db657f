import type { Schema } from '../api/client';

export type Intent = NonNullable<Schema['KeywordRow']['intent']>;

/** The intents, in words, for filter sentences. */
export const intents: { value: Intent; says: string }[] = (
  ['informational', 'commercial', 'transactional', 'navigational'] as const
).map((value) => ({ value, says: `${value} intent` }));
