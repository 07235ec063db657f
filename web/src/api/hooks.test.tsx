import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import type { ReactNode } from 'react';
import { afterEach, describe, expect, it } from 'vitest';
import { ApiError } from './client';
import { useChange, useFormChange } from './hooks';

afterEach(cleanup);

const Around = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={new QueryClient()}>
    <App>{children}</App>
  </QueryClientProvider>
);

const refusal = new ApiError('There is no page 7.', 'pageId');

describe('a change that is refused for a field', () => {
  it('is told on screens that show no fields', async () => {
    const { result } = renderHook(() => useChange(() => Promise.reject<string>(refusal)), { wrapper: Around });
    act(() => result.current.mutate(undefined));
    expect(await screen.findByText('There is no page 7.')).toBeTruthy();
  });

  it('is left to the form that shows it beside the field', async () => {
    const { result } = renderHook(() => useFormChange(() => Promise.reject<string>(refusal)), { wrapper: Around });
    act(() => result.current.mutate(undefined));
    await waitFor(() => expect(result.current.isError).toBe(true));
    expect(screen.queryByText('There is no page 7.')).toBeNull();
  });

  it('without a field is shown by forms too', async () => {
    const { result } = renderHook(
      () => useFormChange(() => Promise.reject<string>(new ApiError('Something is wrong.'))),
      { wrapper: Around },
    );
    act(() => result.current.mutate(undefined));
    expect(await screen.findByText('Something is wrong.')).toBeTruthy();
  });
});
