import { Link } from 'react-router';
import { moment } from '../pieces/format';
import { NotYet } from '../pieces/States';
import { useRefreshState } from './StateLine';

const titles = {
  notConnected: 'No search performance is connected',
  noData: 'Nothing was read yet',
  denied: 'The service refuses the key',
  failed: 'The service failed',
  partial: 'Some days are missing',
  ready: '',
} as const;

/** Why there is nothing to show: nothing is connected, nothing was read, it is denied, it failed, or nothing fits. */
export function EmptyPerformance({ noun }: { noun: string }) {
  const state = useRefreshState().data;
  if (!state) return null;
  if (state.hasRows)
    return (
      <NotYet title={`No ${noun} fits`}>
        Take a condition out of the sentence above, choose more days, or search for something else.
      </NotYet>
    );
  return (
    <NotYet title={titles[state.kind]}>
      {state.says}
      {state.retryAt && ` It is tried again at ${moment(state.retryAt)}.`} <Link to="/site">Open the Site screen</Link>
    </NotYet>
  );
}
