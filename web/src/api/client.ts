import createClient, { type Middleware } from 'openapi-fetch';
import { loseSession, session, setSession } from '../team/session';
import { base } from './base';
import { note } from './changed';
import type { components, paths } from './schema';

/** Names this window to the server, which tells others of what it changes. */
export const windowId = Math.random().toString(36).slice(2);

const isRead = (method: string) => method === 'GET' || method === 'HEAD';

const ours: Middleware = {
  onRequest({ request }) {
    const { token } = session();
    if (!isRead(request.method)) {
      request.headers.set('Jade-Window', windowId);
      if (token) request.headers.set('Jade-Token', token);
    }
    return request;
  },
  onResponse({ request, response }) {
    note(response, request.method);
    if (response.status === 401 && !request.url.endsWith('/api/session')) loseSession();
  },
};

/** The client of the HTTP API; types come from its OpenAPI document. */
export const api = createClient<paths>({ baseUrl: base || '/' });
api.use(ours);

/** What is about no project in particular: the list of them, where a project can be closed while it is asked for. */
export const listApi = createClient<paths>({ baseUrl: '/' });
listApi.use(ours);

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
    // Somebody signed in or out in another window of this browser, and the token went with the session.
    if (problem.type === '/problems/token') void loadSession().catch(() => undefined);
    throw new ApiError(
      problem.detail ?? problem.title ?? `The answer was ${result.response.status}. Try again.`,
      problem.field,
      problem.type === '/problems/stale',
    );
  }
  return result.data as T;
}

/** Asks who is signed in. */
export const loadSession = async () => setSession(await answer(listApi.GET('/api/session')));
