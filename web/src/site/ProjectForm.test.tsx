import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { keyOf } from '../api/keys';
import { press, Refusal, sent, serve, show, told, write } from '../testing';
import { ProjectForm } from './ProjectForm';

const project = { name: '', host: '', country: 'GB', language: 'en', brandTerms: [] };

function shown(answer?: Refusal) {
  const asked = serve({ 'GET /api/tracking/proposals': [], 'GET /api/settings': {}, 'PUT /api/project': answer });
  const close = vi.fn();
  show(<ProjectForm close={close} />, { known: [[keyOf('project'), { project }]] });
  return { asked, close };
}

describe('the form of site and market', () => {
  it('shows the server’s refusal beside its field, and stays open', async () => {
    const { asked, close } = shown(new Refusal(400, '‘no host’ is not a domain.', 'host'));
    write(/^Domain/, 'no host');
    await press('Save');
    expect(await screen.findByText('‘no host’ is not a domain.')).toBeTruthy();
    expect(sent(asked)[0]!.body).toEqual({ ...project, host: 'no host' });
    expect(close).not.toHaveBeenCalled();
    expect(told()).toBe('');
  });

  it('says what went wrong in the tally bar where it is about no field', async () => {
    const { close } = shown(new Refusal(507, 'The disk is full. Nothing was changed.'));
    await press('Save');
    await waitFor(() => expect(told()).toBe('The disk is full. Nothing was changed.'));
    expect(close).not.toHaveBeenCalled();
  });

  it('closes when it is saved', async () => {
    const { close } = shown();
    await press('Save');
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(told()).toBe('Saved.');
  });

  it('ignores a tracking parameter that the results propose, at once', async () => {
    const asked = serve({
      'GET /api/settings': { trackingParameters: ['vid'] },
      'GET /api/tracking/proposals': [
        { name: 'ref', values: 12, lists: 40, pages: 7, example: 'https://rival.example/a?ref=1' },
      ],
    });
    show(<ProjectForm close={() => undefined} />, { known: [[keyOf('project'), { project }]] });
    fireEvent.click(await screen.findByText('ignore it'));
    await waitFor(() => expect(told()).toBe('Saved; addresses are compared without them.'));
    expect(sent(asked).map((a) => [a.what, a.body])).toEqual([['PUT /api/settings/tracking', ['vid', 'ref']]]);
  });
});
