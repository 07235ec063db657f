import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { number, shortUrl } from '../pieces/format';

export type Finding = Schema['FindingRow'];
export type Kind = Finding['kind'];
export type Group = Finding['group'];

/** The kinds of findings and their groups, as options to choose from. */
export function useFindingKinds() {
  const kinds =
    useQuery({
      queryKey: ['finding-kinds'],
      queryFn: () => answer(api.GET('/api/findings/kinds')),
      staleTime: Infinity,
    }).data ?? [];
  return {
    groups: [...new Map(kinds.map((k) => [k.group, k.groupName]))].map(([value, name]) => ({
      value,
      says: `about ${name.toLowerCase()}`,
    })),
    of: (group: Group | undefined) =>
      kinds.filter((k) => !group || k.group === group).map((k) => ({ value: k.kind, says: k.name })),
  };
}

export const states: { value: Finding['state']; says: string }[] = [
  { value: 'open', says: 'open' },
  { value: 'accepted', says: 'accepted' },
  { value: 'dismissed', says: 'dismissed' },
  { value: 'resolved', says: 'resolved' },
];

export const isConflict = (finding: { group: Group | null }) => finding.group === 'cannibalization';

/** What a finding is about, in a word or two: its cluster, else its page. */
export const subject = (f: Finding, host: string | undefined) => f.clusterName ?? shortUrl(f.pageUrl ?? '', host);

/** A finding in one line, for panes that are about something else. */
export const FindingLine = ({ finding }: { finding: Finding }) => (
  <p>
    <Link to={`/findings?id=${encodeURIComponent(finding.key)}`} className={isConflict(finding) ? 'clay' : undefined}>
      {finding.name}
    </Link>
    : {finding.sentence} {finding.atStake >= 0.5 && <>At stake: about {number(finding.atStake)} clicks a month. </>}
    {finding.remedyName && <b>To do: {finding.remedyName}.</b>}
  </p>
);
