import { answer, api, type Schema } from '../api/client';

/** What a text is compared with: a brief, or what is known of a page. */
export type Of = { brief: number } | { page: number };

export type Request = Schema['CheckTextRequest'];

/** Compares a text with its brief, or with what is known of its page. */
export const check = (of: Of, body: Request) =>
  'brief' in of
    ? answer(api.POST('/api/briefs/{id}/check', { params: { path: { id: of.brief } }, body }))
    : answer(api.POST('/api/pages/{id}/check', { params: { path: { id: of.page } }, body }));

/** Where a passage is in the text, which may have marks of Markdown in it: by its first and last words. */
export function findPassage(text: string, passage: string) {
  const exact = text.indexOf(passage);
  if (exact >= 0) return { start: exact, end: exact + passage.length };
  const words = passage.split(/\s+/);
  const start = text.indexOf(words.slice(0, 3).join(' '));
  if (start < 0) return undefined;
  const last = words.slice(-2).join(' ');
  const end = text.indexOf(last, start);
  return { start, end: end < 0 ? start + passage.length : end + last.length };
}
