import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, listApi } from '../api/client';
import { fits, Palette } from './Palette';

const places = [
  { kind: 'cluster', id: '7', name: 'dry suit', detail: 'no page' },
  { kind: 'page', id: '3', name: 'https://www.fenwater.example/dry-suits', detail: 'Dry suits' },
];

const guide = [
  { page: 'Plan', heading: '', address: '/guide/plan' },
  { page: 'How it computes', heading: 'Clicks by position', address: '/guide/how-it-computes#clicks-by-position' },
];

beforeEach(() => {
  localStorage.clear();
  vi.spyOn(listApi, 'GET').mockImplementation((() =>
    Promise.resolve({ data: guide, response: new Response() })) as never);
  Element.prototype.scrollIntoView = () => undefined;
  vi.spyOn(api, 'GET').mockImplementation(((path: string) =>
    Promise.resolve({
      data: path === '/api/places' ? places : { project: { host: 'fenwater.example' } },
      response: new Response(),
    })) as never);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const Where = () => {
  const { pathname, search } = useLocation();
  return <output>{pathname + search}</output>;
};

function shown() {
  const close = vi.fn();
  const act = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={['/plan']}>
        <Palette own={[{ kind: 'Action', name: 'Undo', act }]} close={close} />
        <Where />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  const input = screen.getByRole('combobox');
  return {
    close,
    act,
    input,
    type: (value: string) => fireEvent.change(input, { target: { value } }),
    press: (key: string) => fireEvent.keyDown(input, { key }),
    chosen: () => screen.getByRole('option', { selected: true }).textContent,
    where: () => screen.getByRole('status').textContent,
  };
}

describe('the palette', () => {
  it.each([
    ['Page map', 'ma', true],
    ['Page map', 'pa ma', true],
    ['Page map', 'map', true],
    ['Import result lists', 'res imp', true],
    ['Page map', 'ap', false],
    ['https://www.fenwater.example/dry-suits', 'suits', true],
  ])('finds %s by the letters “%s”: %s', (name, typed, found) => expect(fits(name, typed)).toBe(found));

  it('goes to a stage by a few letters and Enter', () => {
    const palette = shown();
    palette.type('page m');
    expect(palette.chosen()).toContain('Page map');
    palette.press('Enter');
    expect(palette.close).toHaveBeenCalled();
    expect(palette.where()).toBe('/page-map');
  });

  it('finds sections of the guide, and opens them beside the work', async () => {
    const open = vi.spyOn(window, 'open').mockReturnValue(null);
    const palette = shown();
    palette.type('clicks pos');
    const option = (await screen.findByText('Clicks by position')).closest('li')!;
    expect(option.textContent).toBe('GuideClicks by positionHow it computes');
    fireEvent.click(option);
    expect(open).toHaveBeenCalledWith('/guide/how-it-computes#clicks-by-position', '_blank');
    expect(palette.where()).toBe('/plan');
    // A page is found by its title, after the stage of the same name.
    palette.type('plan');
    expect(screen.getAllByRole('option').map((o) => o.textContent)).toContain('GuidePlan');
    expect(palette.chosen()).toBe('StagePlan');
  });

  it('offers what the server finds, the site’s pages by their path', async () => {
    const palette = shown();
    palette.type('dry');
    await screen.findByText('dry suit');
    expect(screen.getByText('/dry-suits')).toBeTruthy();
    palette.press('ArrowDown');
    await waitFor(() => expect(palette.chosen()).toContain('/dry-suits'));
    expect(palette.input.getAttribute('aria-activedescendant')).toBe(screen.getByRole('option', { selected: true }).id);
    palette.press('Enter');
    expect(palette.where()).toBe('/site?id=3');
  });

  it('does not go beyond its ends', () => {
    const palette = shown();
    palette.press('ArrowUp');
    expect(palette.chosen()).toContain('Overview');
    palette.press('PageDown');
    palette.press('PageUp');
    palette.press('PageUp');
    expect(palette.chosen()).toContain('Overview');
  });

  it('does what the screen offers', () => {
    const palette = shown();
    palette.type('undo');
    palette.press('Enter');
    expect(palette.act).toHaveBeenCalledOnce();
    expect(palette.where()).toBe('/plan');
  });

  it('begins with what was looked at last', () => {
    localStorage.setItem(
      'jade-orchard.recent',
      JSON.stringify([{ address: '/clusters?id=7', name: 'dry suit', stage: 'Clusters' }]),
    );
    const palette = shown();
    expect(palette.chosen()).toContain('dry suit');
    palette.press('Enter');
    expect(palette.where()).toBe('/clusters?id=7');
  });

  it('says so where nothing is called like that', () => {
    const palette = shown();
    palette.type('x');
    expect(screen.getByText(/Nothing is called that/)).toBeTruthy();
    palette.press('Enter');
    expect(palette.where()).toBe('/plan');
  });
});
