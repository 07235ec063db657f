import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import type { ListState } from '../pieces/useListState';
import type { Finding, Kind, Sign } from './says';

/** Which findings are asked for, from the address. */
export function findingsQuery(list: ListState) {
  const state = list.text('state');
  return {
    ...list.listing,
    Kind: list.text('kind') as Kind | undefined,
    Sign: list.text('sign') as Sign | undefined,
    State: state === 'any' ? undefined : (state as Finding['state'] | undefined),
    AnyState: state === 'any' ? true : undefined,
    PageId: list.numeric('page'),
    TopicId: list.numeric('topic'),
    Assignee: list.text('assignee') === '-' ? '' : list.text('assignee'),
    IsSmall: list.text('small') === undefined ? undefined : list.text('small') === 'only',
  };
}

export type FindingQuery = ReturnType<typeof findingsQuery>;

/** The names of that query in the address. */
export const findingNames = { kind: 'kind', state: 'state', assignee: 'assignee' };

/** Changes several findings at once. */
export const decideFindings = (
  selection: Schema['FindingSelection'],
  what: { state?: Finding['state']; reason?: string; assignee?: string; note?: string },
) =>
  answer(
    api.POST('/api/findings/decide', {
      body: {
        selection,
        state: what.state ?? null,
        reason: what.reason ?? null,
        assignee: what.assignee ?? null,
        note: what.note ?? null,
      },
    }),
  );

/** Decides one finding. */
export const decideFinding = ({
  key,
  state,
  reason,
  version,
}: {
  key: string;
  state: Finding['state'];
  reason?: string;
  version?: string | null;
}) =>
  answer(
    api.PUT('/api/findings/{key}', { params: { path: { key } }, body: { state, reason: reason ?? null, version } }),
  );

export const saysDecided = (row: Finding) => `${row.subject}: ${row.state}.`;

export const useDecision = () => useChange(decideFinding, saysDecided);
