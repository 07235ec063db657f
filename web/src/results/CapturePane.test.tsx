import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { api } from '../api/client';
import { CapturePane } from './CapturePane';

const estimate = {
  chosen: 500,
  fresh: 20,
  freshDays: 30,
  toAsk: 480,
  pricePerRequest: 0.002,
  cost: 0.96,
  currency: 'EUR',
  depth: 10,
  isPossible: true,
  usualCertainty: 0.95,
};

/** The pane with a server that answers as told; what was asked is kept. */
function shown(answers: { stages?: object; capture?: { status: number; body: object }; estimate?: object } = {}) {
  const asked: { path: string; body: unknown }[] = [];
  const post = (path: string, { body }: { body: unknown }) => {
    asked.push({ path, body });
    const { status, body: told } = path.endsWith('/estimate/stages')
      ? { status: 200, body: answers.stages ?? { open: 480, lists: 240, cost: 0.48, same: 0.975 } }
      : path.endsWith('/estimate')
        ? { status: 200, body: { ...estimate, ...answers.estimate } }
        : (answers.capture ?? { status: 202, body: { id: 7 } });
    const response = { ok: status < 400, status } as Response;
    return Promise.resolve(response.ok ? { data: told, response } : { error: told, response });
  };
  vi.spyOn(api, 'POST').mockImplementation(post as never);
  vi.spyOn(api, 'GET').mockImplementation((() => Promise.resolve({ data: [], response: { ok: true } })) as never);
  render(
    <MemoryRouter>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <App>
          <CapturePane selection={{}} picked={0} close={() => undefined} />
        </App>
      </QueryClientProvider>
    </MemoryRouter>,
  );
  return asked;
}

describe('the pane before a capture', () => {
  afterEach(() => {
    cleanup();
    vi.restoreAllMocks();
  });

  it('tells both prices, and how much of the clusters will be the same', async () => {
    shown();
    expect(await screen.findByRole('radio', { name: 'All 480 for 0.960 EUR' })).toBeTruthy();
    expect(
      screen.getByRole('radio', {
        name: /^In stages: about 240 for 0\.480 EUR, clusters expected to be 98 % the same$/,
      }),
    ).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Capture 480 for 0.960 EUR' })).toBeTruthy();
  });

  it('asks for a certainty in stages, where freshness does not count', async () => {
    const asked = shown();
    const radio = await screen.findByRole('radio', { name: /^In stages/ });
    expect(screen.getByLabelText('Days that a list is fresh')).toBeTruthy();
    act(() => radio.click());
    expect(screen.queryByLabelText('Days that a list is fresh')).toBeNull();
    fireEvent.change(screen.getByLabelText('Certainty in per cent'), { target: { value: '90' } });
    await vi.waitFor(() =>
      expect(asked.at(-1)).toEqual({ path: '/api/captures/estimate/stages', body: { selection: {}, certainty: 0.9 } }),
    );
    act(() => screen.getByRole('button', { name: 'Capture in stages' }).click());
    await vi.waitFor(() =>
      expect(asked.find((a) => a.path === '/api/captures')?.body).toEqual({
        selection: {},
        freshDays: null,
        again: false,
        certainty: 0.9,
      }),
    );
  });

  it('offers no stages where nothing is left to tell from others', async () => {
    shown({ stages: { open: 0, lists: 0, cost: 0, same: 1 } });
    expect(await screen.findByRole('button', { name: /^Capture 480/ })).toBeTruthy();
    expect(screen.queryByRole('radio')).toBeNull();
  });

  it('says what the server refused, and stays', async () => {
    shown({
      capture: { status: 409, body: { title: 'Conflict', detail: 'The budget is used up.', status: 409 } },
    });
    const start = await screen.findByRole('button', { name: /^Capture 480/ });
    act(() => start.click());
    expect((await screen.findAllByText('The budget is used up.')).length).toBeGreaterThan(0);
    expect(screen.getByRole('button', { name: /^Capture 480/ })).toBeTruthy();
  });

  it('cannot start where all is there, or no service is named', async () => {
    shown({ estimate: { toAsk: 0, cost: 0 }, stages: { open: 0, lists: 0, cost: 0, same: 1 } });
    expect(await screen.findByText(/All of them have a fresh list/)).toBeTruthy();
    expect((screen.getByRole('button', { name: /^Capture 0/ }) as HTMLButtonElement).disabled).toBe(true);
    cleanup();
    shown({ estimate: { isPossible: false } });
    expect(await screen.findByText(/No search service is named/)).toBeTruthy();
    expect((screen.getByRole('button', { name: /^Capture 480/ }) as HTMLButtonElement).disabled).toBe(true);
  });
});
