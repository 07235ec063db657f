import type { Schema } from '../api/client';
import type { ListState } from '../pieces/useListState';

const flag = (text: string | undefined) => (text === undefined ? undefined : text === 'yes');

/** Which pages are asked for, from the address. */
export const pagesQuery = (list: ListState) => ({
  ...list.listing,
  Kind: list.text('kind') as Schema['PageRow']['kind'] | undefined,
  HasCluster: flag(list.text('cluster')),
  IsSeen: flag(list.text('seen')),
  Path: list.text('path'),
  Status: list.numeric('status'),
  Indexable: flag(list.text('indexable')),
  MinWords: list.numeric('minWords'),
  MaxWords: list.numeric('maxWords'),
  MinAge: list.numeric('minAge'),
  MaxAge: list.numeric('maxAge'),
  MinLinksIn: list.numeric('minLinksIn'),
  MaxLinksIn: list.numeric('maxLinksIn'),
  IsGone: flag(list.text('gone')),
});

/** The names of that query in the address. */
export const pageNames = {
  kind: 'kind',
  hasCluster: 'cluster',
  isSeen: 'seen',
  path: 'path',
  indexable: 'indexable',
  minWords: 'minWords',
  maxWords: 'maxWords',
  isGone: 'gone',
};
