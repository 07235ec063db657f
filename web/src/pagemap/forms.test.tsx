import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schema } from '../api/client';
import { choose, press, Refusal, sent, serve, show, told, write } from '../testing';
import { ClearPane } from './ClearPane';
import { DeclineForm, OtherPage, PlanPage } from './PlanPage';

const cluster = {
  id: 4,
  name: 'how to roll a kayak',
  version: 'v1',
  topicId: 2,
  topicName: 'rolling',
} as unknown as Schema['ClusterRow'];
const mapping = {
  cluster,
  proposedUrl: '/how-to-roll-a-kayak',
  proposedTitle: 'How to roll a kayak',
  proposedForm: 'guide',
} as unknown as Schema['MappingView'];

describe('the form that plans a page', () => {
  function shown(answers: Record<string, unknown> = {}) {
    const asked = serve({
      'GET /api/topics': { rows: [{ id: 7, name: 'courses', clusters: 3 }] },
      'POST /api/page-map/{clusterId}/planned': { pageUrl: '/skills/rolling' },
      ...answers,
    });
    const close = vi.fn();
    show(<PlanPage mapping={mapping} close={close} />);
    return { asked, close };
  }

  it('begins with what is proposed, and plans what was made of it', async () => {
    const { asked, close } = shown();
    write('Address of the new page', '/skills/rolling');
    await choose('What kind of page', 'answer to a question');
    await choose('Topic it belongs to', 'courses (3)');
    await press('Plan this page');
    await waitFor(() => expect(told()).toBe('/skills/rolling is planned.'));
    expect(close).toHaveBeenCalledOnce();
    expect(sent(asked)[0]).toMatchObject({
      path: { clusterId: 4 },
      body: {
        url: '/skills/rolling',
        workingTitle: 'How to roll a kayak',
        form: 'answer',
        topicId: 7,
        version: 'v1',
      },
    });
  });

  it('tells beside the address that there is such a page', async () => {
    const { close } = shown({
      'POST /api/page-map/{clusterId}/planned': new Refusal(400, '/paddles exists already.', 'url'),
    });
    write('Address of the new page', '/paddles');
    await press('Plan this page');
    expect(await screen.findByText('/paddles exists already.')).toBeTruthy();
    expect(screen.getByLabelText('Address of the new page').getAttribute('aria-invalid')).toBe('true');
    expect(close).not.toHaveBeenCalled();
  });

  it('is left by Escape', () => {
    const { asked, close } = shown();
    fireEvent.keyDown(screen.getByLabelText('Working title'), { key: 'Escape' });
    expect(close).toHaveBeenCalledOnce();
    expect(sent(asked)).toEqual([]);
  });
});

describe('declining a page', () => {
  it('keeps the reason', async () => {
    const asked = serve({ 'POST /api/page-map/{clusterId}/decline': { name: 'how to roll a kayak' } });
    const close = vi.fn();
    show(<DeclineForm cluster={cluster} close={close} />);
    write('Why no page?', 'no lessons here');
    await press('Decline');
    await waitFor(() => expect(told()).toBe('how to roll a kayak gets no page.'));
    expect(sent(asked)[0]!.body).toEqual({ reason: 'no lessons here', version: 'v1' });
  });
});

describe('another page', () => {
  it('is found on the server by what is typed', async () => {
    const asked = serve({
      'GET /api/pages': { rows: [{ id: 5, url: 'https://fenwater.example/skills', title: 'Skills' }] },
    });
    const [assign, close] = [vi.fn(), vi.fn()];
    show(<OtherPage host="fenwater.example" assign={assign} close={close} />);
    const field = screen.getByRole('combobox');
    fireEvent.change(field, { target: { value: 'skil' } });
    await waitFor(() => expect(asked.map((a) => a.query?.['Search'])).toContain('skil'));
    fireEvent.click((await screen.findAllByText('/skills Skills')).at(-1)!);
    expect(assign).toHaveBeenCalledWith(5);
    expect(close).toHaveBeenCalledOnce();
  });
});

describe('clear pages', () => {
  const clear = [
    { clusterId: 1, cluster: 'kayak paddle', url: 'https://fenwater.example/paddles', demand: 1200, strength: 80 },
    { clusterId: 2, cluster: 'dry bag', url: 'https://fenwater.example/dry-bags', demand: 300, strength: 71 },
  ];

  it('are accepted without those that are taken out, and say what they come to', async () => {
    const asked = serve({ 'GET /api/page-map/clear': clear, 'POST /api/page-map/accept-clear': { clusters: 1 } });
    const close = vi.fn();
    show(<ClearPane host="fenwater.example" close={close} />);
    expect(await screen.findByRole('button', { name: 'Accept 2, demand 1,500' })).toBeTruthy();
    fireEvent.click(screen.getByRole('checkbox', { name: /dry bag/ }));
    await press('Accept 1, demand 1,200');
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(sent(asked)[0]!.body).toEqual({ clusterIds: [1] });
  });

  it('cannot be accepted where none is left', async () => {
    serve({ 'GET /api/page-map/clear': clear });
    show(<ClearPane host="fenwater.example" close={() => undefined} />);
    for (const box of await screen.findAllByRole('checkbox')) fireEvent.click(box);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Accept 0/ }).disabled).toBe(true);
  });
});
