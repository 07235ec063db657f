import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { keyOf } from '../api/keys';
import { isDisabled, press, Refusal, sent, serve, show, told, where } from '../testing';
import { FirstStart } from './FirstStart';

function shown(canLoadDemo: boolean, answers: Record<string, unknown> = {}) {
  const asked = serve({ 'POST /api/demo': { id: 1 }, ...answers });
  show(<FirstStart />, { known: [[keyOf('project'), { canLoadDemo }]] });
  return asked;
}

describe('an empty project', () => {
  it('leads to the domain, to files, and loads the demo with one click', async () => {
    const asked = shown(true);
    await press('Name the site');
    expect(where()).toBe('/site?pane=settings');
    await press('Import keywords');
    expect(where()).toBe('/keywords?pane=import');
    await press('Import result lists');
    expect(where()).toBe('/results?pane=import');
    await press('Load the demo');
    await waitFor(() => expect(told()).toBe('The demo is being loaded.'));
    expect(sent(asked).map((a) => a.what)).toEqual(['POST /api/demo']);
  });

  it('says how to start where there is no demo to load', () => {
    shown(false);
    expect(isDisabled('Load the demo')).toBe(true);
    expect(screen.getByRole('button', { name: 'Load the demo' }).title).toBe(
      'Start with ./run --empty to load the demo',
    );
  });

  it('says why the demo was not loaded', async () => {
    shown(true, { 'POST /api/demo': new Refusal(409, 'The demo goes into an empty project only.') });
    await press('Load the demo');
    await waitFor(() => expect(told()).toBe('The demo goes into an empty project only.'));
  });
});
