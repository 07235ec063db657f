import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { moment } from '../pieces/format';
import styles from './refresh.module.css';

export const useRefreshState = () =>
  useQuery({ queryKey: keyOf('refresh state'), queryFn: () => answer(api.GET('/api/refresh/state')) });

/** What is the matter with search performance, where something is. */
export function StateLine() {
  const state = useRefreshState().data;
  if (!state?.hasRows || state.says === '') return null;
  return (
    <div className={styles.trouble} role="status">
      {state.says}
      {state.retryAt && ` It is tried again at ${moment(state.retryAt)}.`} <Link to="/site">Open the Site screen</Link>
    </div>
  );
}
