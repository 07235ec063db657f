import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { isDisabled, press, Refusal, sent, serve, show, told } from '../testing';
import { RivalKeywordsPart } from './RivalKeywordsPart';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const rivals = ['https://a.example/suits', 'https://b.example/suits'];
const keyword = (phrase: string, more: object = {}) => ({
  phrase,
  volume: 400,
  position: 3,
  url: rivals[0],
  isKnown: false,
  ...more,
});

function part(answers: Record<string, unknown>, of = rivals) {
  const asked = serve(answers);
  show(<RivalKeywordsPart id={5} rivals={of} host="fenwater.example" />);
  return asked;
}

describe('what rivals’ pages rank for', () => {
  it('is asked for only on request, since it costs', async () => {
    const asked = part({ 'POST /api/refresh/pages/{id}/rival-keywords': { keywords: [] } });
    expect(screen.getByText(/a.example\/suits, .*b.example\/suits/)).toBeTruthy();
    expect(asked).toEqual([]);
    await press('Ask for 2 rankings');
    expect(await screen.findByText('Nothing that this page doesn’t rank for too.')).toBeTruthy();
    expect(sent(asked)[0]).toMatchObject({ path: { id: 5 } });
  });

  it('is not offered where no rival is known', () => {
    part({}, []);
    expect(screen.queryByRole('heading')).toBeNull();
  });

  it('becomes keywords as far as it is picked; those that are known cannot be', async () => {
    const asked = part({
      'POST /api/refresh/pages/{id}/rival-keywords': {
        keywords: [keyword('suit liner'), keyword('suit socks'), keyword('dry suit', { isKnown: true })],
      },
      'POST /api/keywords/paste': { added: 1, known: 0, rejected: 0 },
    });
    await press('Ask for 2 rankings');
    expect((await screen.findByLabelText<HTMLInputElement>('Pick “dry suit”')).disabled).toBe(true);
    expect(isDisabled('Add 0 keywords')).toBe(true);
    fireEvent.click(screen.getByLabelText('Pick “suit liner”'));
    fireEvent.click(screen.getByLabelText('Pick “suit socks”'));
    fireEvent.click(screen.getByLabelText('Pick “suit liner”'));
    await press('Add 1 keyword');
    await waitFor(() => expect(told()).toBe('Added to the keywords.'));
    expect(sent(asked)[1]!.body).toEqual({ text: 'suit socks', listId: null });
    await waitFor(() => expect(isDisabled('Add 0 keywords')).toBe(true));
  });

  it('says what the service answers instead', async () => {
    part({ 'POST /api/refresh/pages/{id}/rival-keywords': new Refusal(409, 'No rankings service is set up.') });
    await press('Ask for 2 rankings');
    expect(await screen.findByText('No rankings service is set up.')).toBeTruthy();
  });
});
