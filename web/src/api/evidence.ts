import { answer, api } from './client';
import { keyOf } from './keys';

// What a pane reads of one thing. Tables read it beforehand for the rows beside the selected one.

export const pageEvidence = (id: number) => ({
  queryKey: keyOf('page', id),
  queryFn: () => answer(api.GET('/api/pages/{id}', { params: { path: { id } } })),
});

export const keywordEvidence = (id: number) => ({
  queryKey: keyOf('keyword', id),
  queryFn: () => answer(api.GET('/api/keywords/{id}', { params: { path: { id } } })),
});

/** One of the result lists of a keyword; the newest where none is asked for. */
export const resultListEvidence = (keywordId: number, listId?: number) => ({
  queryKey: keyOf('result-list', keywordId, listId),
  queryFn: () =>
    answer(api.GET('/api/keywords/{id}/results', { params: { path: { id: keywordId }, query: { listId } } })),
});

export const clusterEvidence = (id: number) => ({
  queryKey: keyOf('cluster', id),
  queryFn: () => answer(api.GET('/api/clusters/{id}', { params: { path: { id } } })),
});

export const topicEvidence = (id: number) => ({
  queryKey: keyOf('topic', id),
  queryFn: () => answer(api.GET('/api/topics/{id}', { params: { path: { id } } })),
});

/** A cluster with the pages that suit it. */
export const mappingEvidence = (clusterId: number) => ({
  queryKey: keyOf('mapping', clusterId),
  queryFn: () => answer(api.GET('/api/page-map/{clusterId}', { params: { path: { clusterId } } })),
});

export const findingEvidence = (key: string) => ({
  queryKey: keyOf('finding', key),
  queryFn: () => answer(api.GET('/api/findings/{key}', { params: { path: { key } } })),
});

export const stepEvidence = (id: number) => ({
  queryKey: keyOf('step', id),
  queryFn: () => answer(api.GET('/api/plan/steps/{id}', { params: { path: { id } } })),
});

export const briefEvidence = (id: number) => ({
  queryKey: keyOf('brief', id),
  queryFn: () => answer(api.GET('/api/briefs/{id}', { params: { path: { id } } })),
});

/** Days that search performance is compared over. */
type Period = Record<string, string | number | boolean | undefined>;

/** A page with its own search performance. */
export const refreshPageEvidence = (id: number, period: Period) => ({
  queryKey: keyOf('refresh page', id, JSON.stringify(period)),
  queryFn: () => answer(api.GET('/api/refresh/pages/{id}', { params: { path: { id }, query: period } })),
});

/** A query of a page. */
export const queryEvidence = (pageId: number, queryId: number, period: Period) => ({
  queryKey: keyOf('refresh query', pageId, queryId, JSON.stringify(period)),
  queryFn: () =>
    answer(
      api.GET('/api/refresh/pages/{id}/queries/{queryId}', {
        params: { path: { id: pageId, queryId }, query: period },
      }),
    ),
});

/** What was done to a page on a day, and whether it helped. */
export const changeEvidence = (pageId: number, day: string) => ({
  queryKey: keyOf('change', pageId, day),
  queryFn: () => answer(api.GET('/api/changes/{pageId}/{day}', { params: { path: { pageId, day } } })),
});
