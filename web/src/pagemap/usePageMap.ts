import { useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { mappingEvidence } from '../api/evidence';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { shortUrl } from '../pieces/format';
import type { Mark } from '../pieces/PlotMark';
import type { ListState } from '../pieces/useListState';

/** Which clusters are asked for, from the address. */
export const pageMapQuery = (list: ListState) => ({
  ...list.listing,
  Decided: list.text('decided') === undefined ? undefined : list.text('decided') === 'yes',
  Verdict: list.text('verdict') as NonNullable<Schema['ClusterRow']['verdict']> | undefined,
  MinDemand: list.numeric('demand'),
  Mark: list.text('mark') as Mark | undefined,
});

export type PageMapQuery = ReturnType<typeof pageMapQuery>;

/** The names of that query in the address. */
export const pageMapNames = { decided: 'decided', verdict: 'verdict' };

/** Gives a cluster a page, and takes it away again. */
export function useAssignment(host: string | undefined) {
  const queries = useQueryClient();
  const put = ({ cluster, page, version }: { cluster: number; page: number; version?: string | null }) =>
    answer(
      api.PUT('/api/page-map/{clusterId}', {
        params: { path: { clusterId: cluster } },
        body: { pageId: page, version },
      }),
    );
  const says = (row: Schema['ClusterRow']) =>
    `${row.name} assigned to ${row.pageUrl ? shortUrl(row.pageUrl, host) : 'its page'}.`;
  const assign = useChange(put, says);
  const clear = useChange(
    ({ cluster, version }: { cluster: number; version?: string | null }) =>
      answer(
        api.DELETE('/api/page-map/{clusterId}', {
          params: { path: { clusterId: cluster }, query: { version: version ?? undefined } },
        }),
      ),
    (row) => `${row.name} unassigned.`,
  );
  /** Assigns the candidate at a place of the pane, from 1. */
  const choose = useChange(
    async ({ cluster, place }: { cluster: number; place: number }) => {
      const mapping = await queries.fetchQuery(mappingEvidence(cluster));
      const page = mapping.candidates[place - 1]?.page.pageId;
      return page === undefined ? undefined : put({ cluster, page, version: mapping.cluster.version });
    },
    (row) => row && says(row),
  );
  return { assign, clear, choose };
}

/** How many undecided clusters have a clear suggestion. */
export function useClearLeft() {
  const clear = useQuery({
    queryKey: keyOf('clear-left'),
    queryFn: () =>
      answer(api.GET('/api/clusters', { params: { query: { Decided: false, Verdict: 'clear', Limit: 0 } } })),
  });
  return clear.data?.tally.rows ?? 0;
}
