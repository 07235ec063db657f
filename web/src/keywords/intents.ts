import type { Schema } from '../api/client';

export type Intent = NonNullable<Schema['KeywordRow']['intent']>;
