import createClient from 'openapi-fetch';
import { base } from './base';
import { note } from './changed';
import type { components, paths } from './schema';

/** The client of the HTTP API; types come from its OpenAPI document. */
export const api = createClient<paths>({ baseUrl: base || '/' });
api.use({ onResponse: ({ request, response }) => note(response, request.method) });

/** What is about no project in particular: the list of them, where a project can be closed while it is asked for. */
export const listApi = createClient<paths>({ baseUrl: '/' });
listApi.use({ onResponse: ({ request, response }) => note(response, request.method) });

export type Schema = components['schemas'];

/** A failure in words for the planner, from the problem details of the answer. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly field?: string,
    /** Somebody else changed the same thing meanwhile. */
    readonly isStale = false,
  ) {
    super(message);
  }
}

/** The data of an answer, or the failure. */
export async function answer<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result;
  try {
    result = await request;
  } catch {
    throw new ApiError('Jade Orchard isn’t responding. Check that ./run is still running, then try again.');
  }
  if (result.error !== undefined || !result.response.ok) {
    const problem = (result.error ?? {}) as { detail?: string; title?: string; field?: string; type?: string };
    throw new ApiError(
      problem.detail ?? problem.title ?? `The answer was ${result.response.status}. Try again.`,
      problem.field,
      problem.type === '/problems/stale',
    );
  }
  return result.data as T;
}
