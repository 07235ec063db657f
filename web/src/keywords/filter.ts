import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { inSentence, words } from '../api/words';
import { keyOf } from '../api/keys';
import type { paths } from '../api/schema';
import { number } from '../pieces/format';
import { peakOptions, trendOptions } from '../pieces/Season';
import type { ListState } from '../pieces/useListState';

/** What a keyword list is asked for. */
export type KeywordQuery = NonNullable<paths['/api/keywords']['get']['parameters']['query']>;

/** Lists, sources and saved filters, by which keywords are sifted. */
export function useSieves() {
  const lists = useQuery({ queryKey: keyOf('lists'), queryFn: () => answer(api.GET('/api/lists')) }).data ?? [];
  const sources =
    useQuery({ queryKey: keyOf('sources'), queryFn: () => answer(api.GET('/api/keywords/sources')) }).data ?? [];
  return { lists, sources };
}

/** A condition that can be set; its keys are in the address. */
export type Condition =
  | {
      kind: 'range';
      name: string;
      keys: [string, string];
      noun: string;
      says?: (value: number) => string;
      step?: number;
    }
  | { kind: 'words'; name: string; key: string; all?: string; says: (words: string, all: boolean) => string }
  | { kind: 'choice'; name: string; key: string; options: { value: string; says: string }[] };

const yesNo = (yes: string, no: string) => [
  { value: 'true', says: yes },
  { value: 'false', says: no },
];

/** The conditions in the order in which planners sift. */
export function conditionsOf(lists: Schema['ListRow'][], sources: Schema['SourceRow'][]): Condition[] {
  const named = lists.map((l) => ({ value: String(l.id), says: `“${l.name}”` }));
  return [
    { kind: 'range', name: 'volume', keys: ['minVolume', 'maxVolume'], noun: 'volume' },
    { kind: 'range', name: 'difficulty', keys: ['minDifficulty', 'maxDifficulty'], noun: 'difficulty' },
    {
      kind: 'range',
      name: 'cost per click',
      keys: ['minCpc', 'maxCpc'],
      noun: 'cost per click',
      step: 0.05,
      says: (v) => v.toFixed(2),
    },
    { kind: 'range', name: 'title matches', keys: ['minTitleMatches', 'maxTitleMatches'], noun: 'title matches' },
    {
      kind: 'range',
      name: 'title competition',
      keys: ['minTitleCompetition', 'maxTitleCompetition'],
      noun: 'title competition',
      step: 0.25,
      says: (v) => v.toFixed(2),
    },
    { kind: 'range', name: 'number of words', keys: ['minWords', 'maxWords'], noun: 'words' },
    {
      kind: 'words',
      name: 'words in',
      key: 'wordsIn',
      all: 'allWordsIn',
      says: (w, all) => `with ${all ? 'all' : 'any'} of: ${w}`,
    },
    { kind: 'words', name: 'words out', key: 'wordsOut', says: (w) => `without: ${w}` },
    {
      kind: 'choice',
      name: 'brands and sellers',
      key: 'withoutBrands',
      options: [{ value: 'true', says: 'brands and sellers out' }],
    },
    {
      kind: 'choice',
      name: 'own brand',
      key: 'ownBrand',
      options: yesNo('with the own brand', 'without the own brand'),
    },
    { kind: 'choice', name: 'trend', key: 'trend', options: trendOptions },
    { kind: 'choice', name: 'season', key: 'peakMonth', options: peakOptions },
    { kind: 'choice', name: 'questions', key: 'questions', options: yesNo('questions only', 'no questions') },
    {
      kind: 'choice',
      name: 'intent',
      key: 'intents',
      options: [...inSentence<string>(words.intents), { value: 'unknown', says: 'intent not known' }],
    },
    {
      kind: 'choice',
      name: 'source',
      key: 'sourceId',
      options: sources.map((s) => ({ value: String(s.id), says: `from ${s.label}` })),
    },
    { kind: 'choice', name: 'list', key: 'listId', options: named.map((l) => ({ ...l, says: `in ${l.says}` })) },
    {
      kind: 'choice',
      name: 'not in list',
      key: 'notListId',
      options: named.map((l) => ({ ...l, says: `not in ${l.says}` })),
    },
    {
      kind: 'choice',
      name: 'capture',
      key: 'capture',
      options: inSentence(words.captureStates),
    },
    {
      kind: 'choice',
      name: 'state',
      key: 'progress',
      options: [
        { value: 'free', says: 'in no cluster' },
        { value: 'clustered', says: 'in a cluster' },
        { value: 'mapped', says: 'mapped to a page' },
        { value: 'unmapped', says: 'in a cluster without a page' },
        { value: 'declined', says: 'declined' },
      ],
    },
  ];
}

/** The keys of the address that belong to the filter. */
export const keysOf = (condition: Condition): string[] =>
  condition.kind === 'range'
    ? condition.keys
    : condition.kind === 'words' && condition.all
      ? [condition.key, condition.all]
      : [condition.key];

/** What a condition says, in plain words; undefined where it is not set. */
export function saysOf(condition: Condition, list: ListState): string | undefined {
  if (condition.kind === 'range') {
    const [least, most] = [list.numeric(condition.keys[0]), list.numeric(condition.keys[1])];
    const says = condition.says ?? number;
    if (least === undefined && most === undefined) return undefined;
    if (most === undefined) return `${condition.noun} from ${says(least!)}`;
    return least === undefined
      ? `${condition.noun} up to ${says(most)}`
      : `${condition.noun} ${says(least)} to ${says(most)}`;
  }
  const value = list.text(condition.key);
  if (value === undefined) return undefined;
  if (condition.kind === 'words') return condition.says(value, list.text(condition.all ?? '') === 'true');
  return condition.options.find((o) => o.value === value)?.says ?? `${condition.name}: ${value}`;
}

const texts = ['wordsIn', 'wordsOut', 'intents', 'capture', 'progress', 'sourceKind', 'variantKey', 'trend'];
const flags = ['allWordsIn', 'withoutBrands', 'ownBrand', 'questions'];
const numbers = [
  'minVolume', 'maxVolume', 'minDifficulty', 'maxDifficulty', 'minCpc', 'maxCpc', 'minTitleMatches', 'maxTitleMatches',
  'minTitleCompetition', 'maxTitleCompetition', 'minWords', 'maxWords', 'sourceId', 'listId', 'notListId', 'clusterId',
  'peakMonth',
]; // prettier-ignore

export const filterKeys = [...texts, ...flags, ...numbers];

/** The filter of the address as a body of a request has it. */
export function filterOf(list: ListState): Schema['KeywordFilter'] {
  const filter: Record<string, string | number | boolean> = {};
  for (const key of texts) if (list.text(key) !== undefined) filter[key] = list.text(key)!;
  for (const key of flags) if (list.text(key) !== undefined) filter[key] = list.text(key) === 'true';
  for (const key of numbers) if (list.numeric(key) !== undefined) filter[key] = list.numeric(key)!;
  return filter as unknown as Schema['KeywordFilter'];
}

/** The same as a query string has it. */
export const queryOf = (list: ListState): KeywordQuery => ({
  ...list.listing,
  ...Object.fromEntries(
    Object.entries(filterOf(list)).map(([key, value]) => [key.charAt(0).toUpperCase() + key.slice(1), value]),
  ),
});

/** The keywords that are picked, or all that are in view. */
export const selectionOf = (list: ListState, picked: ReadonlySet<number>): Schema['KeywordSelection'] =>
  picked.size > 0
    ? { ids: [...picked], filter: null, search: null }
    : { ids: null, filter: filterOf(list), search: list.text('search') ?? null };
