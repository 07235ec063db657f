import type { Schema } from '../api/client';
import { sentenceCase } from '../pieces/format';

export type State = Schema['BriefState'];

/** In which forms a brief is written. */
export const formats = [
  { value: 'docx', label: 'Documents (DOCX)' },
  { value: 'xlsx', label: 'Workbooks (XLSX)' },
  { value: 'html', label: 'Pages to print (HTML)' },
  { value: 'md', label: 'Markdown' },
  { value: 'json', label: 'JSON' },
] as const;

/** What the drafting service writes. */
export const draftNames: Record<Schema['DraftKind'], string> = {
  title: 'Title',
  description: 'Description',
  outline: 'Outline',
  introduction: 'Introduction',
  answer: 'Answer',
  section: 'Section',
};

/** The outline by its words, as it is sent back. */
export const sectionsOf = (brief: Schema['Brief']): Schema['EditedSection'][] =>
  brief.outline.sections.map((s) => ({
    level: s.level,
    heading: s.heading,
    keywords: s.keywords.map((k) => brief.keywords[k]!.phrase),
    questions: s.questions.map((q) => brief.questions[q]!),
    terms: s.terms.map((t) => brief.terms[t]!.text),
  }));

/** A section for a heading alone. */
export const emptySection = (heading: string, level = 2): Schema['EditedSection'] => ({
  level,
  heading,
  keywords: [],
  questions: [],
  terms: [],
});

type Section = Schema['EditedSection'];
const served = (s: Section) => [
  ...s.keywords.map((text) => ({ what: 'keywords' as const, text })),
  ...s.questions.map((text) => ({ what: 'questions' as const, text })),
  ...s.terms.map((text) => ({ what: 'terms' as const, text })),
];

/** Two sections of one: the second half of what it serves goes into a section of its own. */
export function split(section: Section): Section[] {
  const all = served(section);
  const second = all.slice(Math.ceil(all.length / 2));
  const next = emptySection(second[0] ? sentenceCase(second[0].text) : `${section.heading}, continued`, section.level);
  const first = { ...section };
  for (const { what, text } of second) {
    first[what] = first[what].filter((t) => t !== text);
    next[what] = [...next[what], text];
  }
  return [first, next];
}

/** One section of two, with the heading of the first. */
export const join = (first: Section, second: Section): Section => ({
  ...first,
  keywords: [...new Set([...first.keywords, ...second.keywords])],
  questions: [...new Set([...first.questions, ...second.questions])],
  terms: [...new Set([...first.terms, ...second.terms])],
});
