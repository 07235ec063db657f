import { Link } from 'react-router';
import type { Schema } from '../api/client';
import { number, shortUrl } from '../pieces/format';

export type Finding = Schema['FindingRow'];
export type Kind = Finding['kind'];

/** The kinds with their names, in the order in which they are told. */
export const kinds: { value: Kind; says: string; group: 'cannibalization' | 'uncovered' }[] = [
  { value: 'rivalsInResults', says: 'rivals in results', group: 'cannibalization' },
  { value: 'wrongPageRanks', says: 'wrong page ranks', group: 'cannibalization' },
  { value: 'sharedTarget', says: 'shared target', group: 'cannibalization' },
  { value: 'noPage', says: 'no page', group: 'uncovered' },
  { value: 'absent', says: 'absent', group: 'uncovered' },
];

export const states: { value: Finding['state']; says: string }[] = [
  { value: 'open', says: 'open' },
  { value: 'accepted', says: 'accepted' },
  { value: 'dismissed', says: 'dismissed' },
  { value: 'resolved', says: 'resolved' },
];

export const kindName = (kind: Kind) => kinds.find((k) => k.value === kind)?.says ?? kind;

export const isConflict = (kind: Kind) => kinds.find((k) => k.value === kind)?.group === 'cannibalization';

/** What a finding says, in one sentence. */
export function sentence(f: Finding, host: string | undefined): string {
  const page = f.pageUrl ? shortUrl(f.pageUrl, host) : 'no page';
  const other = f.otherPageUrl ? shortUrl(f.otherPageUrl, host) : 'another page';
  const held = f.isPageDecided ? 'assigned' : 'suggested';
  switch (f.kind) {
    case 'rivalsInResults':
      return `${page} and ${other} stand in the same result lists, for keywords of one cluster.`;
    case 'wrongPageRanks':
      return `${other} ranks for this cluster, not ${page}, which is the ${held} page.`;
    case 'sharedTarget':
      return `${page} and ${other} have clusters with nearly the same results${f.otherClusterName ? ` (the other is “${f.otherClusterName}”)` : ''}, so they chase the same searches.`;
    case 'noPage':
      return 'People search for this, and no page of the site is about it.';
    case 'absent':
      return f.pageUrl
        ? `${page} is the ${held} page, and it stands in none of the captured result lists.`
        : 'No page of the site stands in the captured result lists.';
  }
}

/** What can be done about a kind of finding. */
export const remedies: Record<Kind, string> = {
  rivalsInResults:
    'Keep one page and redirect the other, merge them, give the other a new target, or make one canonical. Leave it as it is where both are wanted.',
  wrongPageRanks:
    'Assign the page that ranks, or strengthen the assigned one: link to it from the one that ranks, and give that one another target.',
  sharedTarget: 'Merge the two pages, or part their targets so that each answers its own searches.',
  noPage: 'Plan a page on the page map, or dismiss it where the site does not want these searches.',
  absent: 'Plan a page, or look at what the pages that do rank have and this one lacks.',
};

/** A finding in one line, for panes that are about something else. */
export const FindingLine = ({ finding, host }: { finding: Finding; host: string | undefined }) => (
  <p>
    <Link
      to={`/findings?id=${encodeURIComponent(finding.key)}`}
      className={isConflict(finding.kind) ? 'clay' : undefined}
    >
      {kindName(finding.kind)}
    </Link>
    : {sentence(finding, host)}{' '}
    {finding.atStake >= 0.5 && <>At stake: about {number(finding.atStake)} clicks a month.</>}
  </p>
);
