import { Link } from 'react-router';
import type { Schema } from '../api/client';
import { number, shortUrl } from '../pieces/format';

export type Finding = Schema['FindingRow'];
export type Kind = Finding['kind'];
export type Group = 'cannibalization' | 'uncovered' | 'links' | 'page';

/** The kinds with their names, in the order in which they are told. */
export const kinds: { value: Kind; says: string; group: Group }[] = [
  { value: 'rivalsInResults', says: 'rivals in results', group: 'cannibalization' },
  { value: 'splitTraffic', says: 'split traffic', group: 'cannibalization' },
  { value: 'pageSwap', says: 'page swap', group: 'cannibalization' },
  { value: 'wrongPageRanks', says: 'wrong page ranks', group: 'cannibalization' },
  { value: 'sharedTarget', says: 'shared target', group: 'cannibalization' },
  { value: 'mixedTarget', says: 'mixed target', group: 'cannibalization' },
  { value: 'twinTitles', says: 'twin titles', group: 'cannibalization' },
  { value: 'noPage', says: 'no page', group: 'uncovered' },
  { value: 'absent', says: 'absent', group: 'uncovered' },
  { value: 'missingOnPage', says: 'missing on page', group: 'uncovered' },
  { value: 'openQuestion', says: 'open question', group: 'uncovered' },
  { value: 'unlinkedSupport', says: 'unlinked support', group: 'links' },
  { value: 'orphan', says: 'orphan', group: 'links' },
  { value: 'targetless', says: 'targetless', group: 'page' },
];

export const groups: { value: Group; says: string }[] = [
  { value: 'cannibalization', says: 'about cannibalization' },
  { value: 'uncovered', says: 'about uncovered subtopics' },
  { value: 'links', says: 'about links' },
  { value: 'page', says: 'about pages' },
];

export const states: { value: Finding['state']; says: string }[] = [
  { value: 'open', says: 'open' },
  { value: 'accepted', says: 'accepted' },
  { value: 'dismissed', says: 'dismissed' },
  { value: 'resolved', says: 'resolved' },
];

export const kindName = (kind: Kind) => kinds.find((k) => k.value === kind)?.says ?? kind;

export const isConflict = (kind: Kind) => kinds.find((k) => k.value === kind)?.group === 'cannibalization';

/** What is to be done, in words. */
export const remedyName: Record<NonNullable<Finding['remedy']>, string> = {
  redirect: 'keep one, redirect the other',
  merge: 'merge the two',
  newTarget: 'give the other a new target',
  canonical: 'make one canonical',
  link: 'link them',
};

/** What a finding is about, in a word or two: its cluster, else its page. */
export const subject = (f: Finding, host: string | undefined) => f.clusterName ?? shortUrl(f.pageUrl ?? '', host);

/** What a finding says, in one sentence. */
export function sentence(f: Finding, host: string | undefined): string {
  const page = f.pageUrl ? shortUrl(f.pageUrl, host) : 'no page';
  const other = f.otherPageUrl ? shortUrl(f.otherPageUrl, host) : 'another page';
  const held = f.isPageDecided ? 'assigned' : 'suggested';
  switch (f.kind) {
    case 'rivalsInResults':
      return `${page} and ${other} stand in the same result lists, for keywords of one cluster.`;
    case 'splitTraffic':
      return `The impressions of the same queries go to ${page} and to ${other}.`;
    case 'pageSwap':
      return `${page} and ${other} take turns as the site’s best page for the same searches.`;
    case 'wrongPageRanks':
      return `${other} ranks for this cluster, not ${page}, which is ${f.isPageDecided ? 'the assigned page' : 'the page that is about it'}.`;
    case 'sharedTarget':
      return `${page} and ${other} have clusters with nearly the same results${f.otherClusterName ? ` (the other is “${f.otherClusterName}”)` : ''}, so they chase the same searches.`;
    case 'mixedTarget':
      return `${page} is also assigned “${f.otherClusterName}”, which shares no result with this cluster.`;
    case 'twinTitles':
      return `The titles or main headings of ${page} and ${other} are nearly the same.`;
    case 'noPage':
      return 'People search for this, and no page of the site is about it.';
    case 'absent':
      return f.pageUrl
        ? `${page} is the ${held} page, and it stands in none of the captured result lists.`
        : 'No page of the site stands in the captured result lists.';
    case 'missingOnPage':
      return `${page}, the ${held} page, never mentions some of the keywords of its cluster.`;
    case 'openQuestion':
      return 'People ask these questions, and no page of the site answers them.';
    case 'unlinkedSupport':
      return `${page} does not link to ${other}, though they are pillar and support of one topic.`;
    case 'orphan':
      return `No page of the site links to ${page}.`;
    case 'targetless':
      return `${page} has no cluster, and nobody came to it by a search.`;
  }
}

/** What can be done about a kind of finding. */
export const remedies: Record<Kind, string> = {
  rivalsInResults:
    'Keep one page and redirect the other, merge them, give the other a new target, or make one canonical. Leave it as it is where both are wanted.',
  splitTraffic:
    'Decide which page these searches belong to. Merge or redirect the other, or give it searches of its own and link to the one that stays.',
  pageSwap:
    'Search services cannot tell which page to show. Merge the two, or make one plainly the better answer: title, links and text of the other go elsewhere.',
  wrongPageRanks:
    'Assign the page that ranks, or strengthen the assigned one: link to it from the one that ranks, and give that one another target.',
  sharedTarget: 'Merge the two pages, or part their targets so that each answers its own searches.',
  mixedTarget: 'Give the smaller cluster a page of its own, existing or planned, or decline it.',
  twinTitles: 'Give each page a title that says what only it has; merge them where there is nothing of the kind.',
  noPage: 'Plan a page on the page map, or decline it where the site does not want these searches.',
  absent: 'Plan a page, or look at what the pages that do rank have and this one lacks.',
  missingOnPage: 'Work the words in where they belong, or move the keyword to a cluster whose page it fits.',
  openQuestion: 'Answer them under a heading of their own, on the page of the cluster.',
  unlinkedSupport: 'Add the link, where a reader would want it.',
  orphan: 'Link to it from pages about the same topic, or take it down.',
  targetless: 'Give it a cluster, merge it into a page that has one, or leave it where it serves another purpose.',
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
    {finding.atStake >= 0.5 && <>At stake: about {number(finding.atStake)} clicks a month. </>}
    {finding.remedy && <b>To do: {remedyName[finding.remedy]}.</b>}
  </p>
);
