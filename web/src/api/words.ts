import { answer, api, type Schema } from './client';

/** What outcomes are called; the server's words, read before anything is shown. */
export let words: Schema['WordsView'] = {
  stepKinds: [],
  stepStatuses: [],
  findingStates: [],
  briefStates: [],
  captureStates: [],
  intents: [],
  verdicts: [],
  linkingRules: [],
  changeKinds: [],
  effectVerdicts: [],
  rankMoves: [],
  queryMarks: [],
};

export async function loadWords() {
  words = await answer(api.GET('/api/words'));
}

interface Word<T> {
  value: T;
  name: string;
  phrase: string;
}

/** Words as options of a filter sentence. */
export const inSentence = <T>(list: Word<T>[]) => list.map(({ value, phrase }) => ({ value, says: phrase }));

/** What a value is called; the value itself where there is no word for it. */
export const nameOf = <T>(list: Word<T>[], value: T) => list.find((w) => w.value === value)?.name ?? String(value);
