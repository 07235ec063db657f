import type { Schema } from '../api/client';

export type State = Schema['BriefState'];

/** How far a brief can have come, in order. */
export const states: readonly { value: State; says: string }[] = [
  { value: 'draft', says: 'draft' },
  { value: 'ready', says: 'ready' },
  { value: 'sent', says: 'sent' },
  { value: 'returned', says: 'returned' },
  { value: 'done', says: 'done' },
];

/** The outline by its words, as it is sent back. */
export const sectionsOf = (brief: Schema['Brief']): Schema['EditedSection'][] =>
  brief.outline.sections.map((s) => ({
    level: s.level,
    heading: s.heading,
    keywords: s.keywords.map((k) => brief.keywords[k]!.phrase),
    questions: s.questions.map((q) => brief.questions[q]!),
    terms: s.terms.map((t) => brief.terms[t]!.text),
  }));
