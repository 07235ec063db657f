import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query';
import { answer, listApi } from '../api/client';
import { keyOf } from '../api/keys';

/** Those who can sign in. */
export const team = queryOptions({ queryKey: keyOf('team'), queryFn: () => answer(listApi.GET('/api/team')) });

/** What planners call the roles, and what each may do. */
export const roles = [
  { value: 'planner', label: 'planner', says: 'can do everything' },
  { value: 'writer', label: 'writer', says: 'reads, checks and hands in their own briefs' },
  { value: 'reader', label: 'reader', says: 'reads everything, changes nothing' },
] as const;

/** Signs out and reloads, so that nothing of the project stays in the window. */
export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answer(listApi.DELETE('/api/session')),
    onSettled: () => {
      queries.clear();
      window.location.assign('/');
    },
  });
}
