import type { Schema } from '../api/client';
import { shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** The sections by how many of the ranking pages have them. */
export function Shared({ sections, read }: { sections: readonly Schema['OutlineSection'][]; read: number }) {
  const groups = [
    ['All of them have', sections.filter((s) => s.pages === read && read > 0)],
    ['Some have', sections.filter((s) => s.pages > 0 && s.pages < read)],
    ['Only we have', sections.filter((s) => s.pages === 0 && s.isOurs)],
  ] as const;
  return groups
    .filter(([, some]) => some.length > 0)
    .map(([heading, some]) => (
      <div key={heading}>
        <h3>{heading}</h3>
        <p>{some.map((s) => s.heading).join(', ')}</p>
      </div>
    ));
}

/** Ranking pages that were not read, and why. */
export function Unread({ pages }: { pages: readonly Schema['BriefRanking'][] }) {
  if (pages.length === 0) return null;
  return (
    <>
      <h3>Not read</h3>
      {pages.map((page) => (
        <p key={page.url}>
          {shortUrl(page.url, undefined)}{' '}
          <span className={ui.second}>{page.fault ?? 'not tried yet, or more than 30 days ago'}</span>
        </p>
      ))}
    </>
  );
}

/** How many of the pages have a section, in a word. */
export const howMany = (s: Schema['OutlineSection'], read: number) =>
  s.pages === 0 ? (s.isOurs ? 'only ours' : 'none') : s.pages === read ? 'all' : `${s.pages}`;

/** The same as a sentence. */
export const howManySays = (s: Schema['OutlineSection'], read: number, isNew: boolean) =>
  `${s.pages === 0 ? 'No page that was read has' : s.pages === read ? 'All of them have' : `${s.pages} of ${read} have`} a section like it.${isNew ? '' : s.isOurs ? ' Ours has it.' : ' Ours has none.'}`;
