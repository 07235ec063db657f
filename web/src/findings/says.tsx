import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

export type Finding = Schema['FindingRow'];
export type Kind = Finding['kind'];
export type Sign = Schema['SignKind'];

/** The kinds of findings and the signs by which they show themselves, as options to choose from. */
export function useFindingKinds() {
  const kinds =
    useQuery({
      queryKey: keyOf('finding-kinds'),
      queryFn: () => answer(api.GET('/api/findings/kinds')),
      staleTime: Infinity,
    }).data ?? [];
  const signs = (kind: Kind | undefined) => kinds.filter((k) => !kind || k.kind === kind).flatMap((k) => k.signs);
  return {
    kinds: kinds.map((k) => ({ value: k.kind, says: k.heading.toLowerCase() })),
    signsOf: (kind: Kind | undefined) =>
      [...new Map(signs(kind).map((s) => [s.kind, s.name]))].map(([value, says]) => ({ value, says })),
  };
}

export const isConflict = (finding: { kind: Kind }) => finding.kind === 'conflict';

/** The state in which a finding is, or what was decided. */
export const stateOf = (f: Finding) => (f.state === 'accepted' && f.remedyName ? f.remedyName : f.state);

/** A finding in one line, for panes that are about something else. */
export const FindingLine = ({ finding }: { finding: Finding }) => (
  <p>
    <Link to={`/findings?id=${encodeURIComponent(finding.key)}`} className={isConflict(finding) ? ui.clay : undefined}>
      {finding.name}
    </Link>
    : {finding.subject}: {finding.says}.{' '}
    {finding.atStake >= 0.5 && <>At stake: about {number(finding.atStake)} clicks a month. </>}
    {finding.remedyName && <b>To do: {finding.remedyName}.</b>}
  </p>
);
