import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App, ConfigProvider } from 'antd';
import type { ReactNode } from 'react';
import { MemoryRouter, useLocation } from 'react-router';
import { vi } from 'vitest';
import { api, listApi, type Schema } from '../api/client';
import { loadWords, words } from '../api/words';
import { tell, useLastAction } from '../app/lastAction';

/** What a component asked the server for. */
export interface Asked {
  /** Method and path as in the OpenAPI document, such as `PUT /api/clusters/{id}`. */
  what: string;
  path: Record<string, unknown> | undefined;
  query: Record<string, unknown> | undefined;
  body: unknown;
}

/** An answer that refuses what was asked for. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly detail: string,
    readonly field?: string,
  ) {}
}

/**
 * Plays the server: `answers` has data for each "METHOD path" that is asked for, or a function that makes it.
 * What it has no answer for is answered with nothing. Everything that was asked is kept in order, for the test.
 */
export function serve(answers: Record<string, unknown>): Asked[] {
  const asked: Asked[] = [];
  for (const [client, method] of [api, listApi].flatMap((c) =>
    (['GET', 'POST', 'PUT', 'DELETE'] as const).map((m) => [c, m] as const),
  ))
    vi.spyOn(client, method).mockImplementation(((
      path: string,
      given?: { body?: unknown; params?: { path?: Record<string, unknown>; query?: Record<string, unknown> } },
    ) => {
      const request: Asked = {
        what: `${method} ${path}`,
        path: given?.params?.path,
        query: given?.params?.query,
        body: given?.body,
      };
      asked.push(request);
      const found = answers[request.what];
      const data: unknown = typeof found === 'function' ? (found as (request: Asked) => unknown)(request) : found;
      return Promise.resolve(
        data instanceof Refusal
          ? { error: data, response: new Response(null, { status: data.status }) }
          : { data, response: new Response(null, { status: data === undefined ? 204 : 200 }) },
      );
    }) as never);
  return asked;
}

/** Makes some of the server's words known, and no others. */
export async function knowWords(some: object) {
  const none = Object.fromEntries(Object.keys(words).map((list) => [list, []]));
  serve({ 'GET /api/words': { ...none, ...some } });
  await loadWords();
}

/** The bodies of what was sent, without what was read. */
export const sent = (asked: Asked[]) => asked.filter((a) => !a.what.startsWith('GET'));

const Where = () => {
  const { pathname, search } = useLocation();
  return <data title="where" value={pathname + search} />;
};
const Told = () => <output aria-label="told">{useLastAction()?.text}</output>;

/** Shows a component at an address, with what the server is known to say. */
export function show(
  element: ReactNode,
  { at = '/', known = [] }: { at?: string; known?: [readonly unknown[], unknown][] } = {},
) {
  act(() => tell(undefined));
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
  for (const [key, data] of known) queries.setQueryData(key, data);
  return render(
    <MemoryRouter initialEntries={[at]}>
      <QueryClientProvider client={queries}>
        {/* Without its styles, which jsdom takes long to read and shows nothing of. */}
        <ConfigProvider theme={{ zeroRuntime: true, token: { motion: false } }}>
          <App>
            {element}
            <Told />
            <Where />
          </App>
        </ConfigProvider>
      </QueryClientProvider>
    </MemoryRouter>,
  );
}

/** What the tally bar says. */
export const told = () => screen.getByLabelText('told').textContent;
/** The address after what was done. */
export const where = () => screen.getByTitle('where').getAttribute('value');

export const write = (label: string | RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

/** Presses a button, once it can be pressed. */
export async function press(name: string | RegExp) {
  const button = await waitFor(() => {
    const found = screen.getByRole<HTMLButtonElement>('button', { name });
    if (found.disabled) throw new Error(`“${found.textContent}” cannot be pressed.`);
    return found;
  });
  fireEvent.click(button);
}

export const isDisabled = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>('button', { name }).disabled;

/** Chooses an option of one of Ant Design's selects. */
export async function choose(label: string | RegExp, option: string | RegExp) {
  const field = await screen.findByRole('combobox', { name: label });
  fireEvent.mouseDown(field);
  const found = (await screen.findAllByText(option)).at(-1)!;
  fireEvent.click(found);
}

/** What captures cost and how they go, as a project has it. */
export const captureSettings: Schema['CaptureSettings'] = {
  depth: 10,
  pricePerRequest: 0.002,
  currency: 'EUR',
  ratePerSecond: 5,
  atOnce: 4,
  freshDays: 30,
  recaptureDays: 0,
  recaptureListId: null,
  monthlyBudget: 10,
};
