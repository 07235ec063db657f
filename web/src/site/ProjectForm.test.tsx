import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '../api/client';
import { keyOf } from '../api/keys';
import { tell, useLastAction } from '../app/lastAction';
import { ProjectForm } from './ProjectForm';

beforeEach(() => {
  vi.spyOn(api, 'GET').mockResolvedValue({ data: [], response: new Response() } as never);
  // Ant Design looks at the window's size.
  vi.stubGlobal('matchMedia', () => ({
    matches: false,
    addListener: () => undefined,
    removeListener: () => undefined,
  }));
});
afterEach(() => {
  cleanup();
  act(() => tell(undefined));
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const Told = () => <output>{useLastAction()?.text}</output>;

function shown() {
  const close = vi.fn();
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
  const project = { name: '', host: '', country: 'GB', language: 'en', brandTerms: [] };
  queries.setQueryData(keyOf('project'), { project });
  render(
    <QueryClientProvider client={queries}>
      <ProjectForm close={close} />
      <Told />
    </QueryClientProvider>,
  );
  return close;
}

describe('the form of site and market', () => {
  it('shows the server’s refusal beside its field, and stays open', async () => {
    const put = vi.spyOn(api, 'PUT').mockResolvedValue({
      error: { detail: '‘no host’ is not a domain.', field: 'host' },
      response: new Response(null, { status: 400 }),
    } as never);
    const close = shown();
    fireEvent.change(screen.getByLabelText(/^Domain/), { target: { value: 'no host' } });
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText('‘no host’ is not a domain.')).toBeTruthy();
    expect(put.mock.calls[0]![1]).toMatchObject({ body: { host: 'no host', country: 'GB', language: 'en' } });
    expect(close).not.toHaveBeenCalled();
    expect(screen.getByRole('status').textContent).toBe('');
  });

  it('says what went wrong in the tally bar where it is about no field', async () => {
    vi.spyOn(api, 'PUT').mockResolvedValue({
      error: { detail: 'The disk is full. Nothing was changed.' },
      response: new Response(null, { status: 507 }),
    } as never);
    const close = shown();
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('The disk is full. Nothing was changed.'));
    expect(close).not.toHaveBeenCalled();
  });

  it('closes when it is saved', async () => {
    vi.spyOn(api, 'PUT').mockResolvedValue({ data: undefined, response: new Response(null, { status: 204 }) } as never);
    const close = shown();
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(screen.getByRole('status').textContent).toBe('Saved.');
  });
});
