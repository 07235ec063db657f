import type { Schema } from '../api/client';
import type { Mark } from '../pieces/PlotMark';
import type { ListState } from '../pieces/useListState';

/** Which clusters are asked for, from the address. */
export const clustersQuery = (list: ListState) => ({
  ...list.listing,
  Mark: list.text('mark') as Mark | undefined,
  MinDemand: list.numeric('demand'),
  MinSize: list.numeric('size'),
  Intent: list.text('intent') as Schema['Intent'] | undefined,
  Trend: list.text('trend') as Schema['Direction'] | undefined,
  PeakMonth: list.numeric('peak'),
  TopicId: list.numeric('inTopic'),
});

export type ClustersQuery = ReturnType<typeof clustersQuery>;

/** The names of that query in the address. */
export const clusterNames = { mark: 'mark', minDemand: 'demand', minSize: 'size' };
