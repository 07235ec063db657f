import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { jobsKey } from '../api/keys';
import { press, sent, serve, show } from '../testing';
import { CaptureHistory } from './CapturePane';
import { StagedPart, StagesTally } from './StagedPart';

const job = (state: string, message: string) => ({
  id: 7,
  label: 'Capture of 40 lists',
  state,
  message,
  canResume: false,
  progress: null,
});

describe('captures so far', () => {
  const capture = (of: object, failed: number) => ({ job: of, counts: { failed }, cost: 0.08, currency: 'EUR' });

  it('say what came of each and what it cost; what failed is named and tried again', async () => {
    const asked = serve({
      'GET /api/captures': [capture(job('done', '38 result lists captured; 2 failed.'), 2)],
      'GET /api/captures/{id}/failed': [{ keywordId: 1, phrase: 'kayak hire', note: 'did not answer within 10 s' }],
      'POST /api/captures/{id}/retry': { id: 8 },
    });
    show(<CaptureHistory />);
    expect(await screen.findByText('38 result lists captured; 2 failed.')).toBeTruthy();
    expect(screen.getByText('0.080 EUR')).toBeTruthy();
    fireEvent.click(screen.getByText('which ones?'));
    expect(await screen.findByText('kayak hire: did not answer within 10 s')).toBeTruthy();
    fireEvent.click(screen.getByText('hide them'));
    expect(screen.queryByText('kayak hire: did not answer within 10 s')).toBeNull();
    await press('Try 2 failed ones again');
    await waitFor(() => expect(sent(asked)).toMatchObject([{ path: { id: 7 } }]));
  });

  it('show how far one is that runs, with the time left', async () => {
    const running = {
      ...job('running', ''),
      progress: { phase: 'Capturing', done: 10, total: 40, secondsLeft: 6 },
    };
    serve({ 'GET /api/captures': [capture(running, 0)], 'GET /api/jobs/{id}': running });
    show(<CaptureHistory />, { known: [[jobsKey, [running]]] });
    expect(await screen.findByText('Capturing: 10 of 40, 6 s left')).toBeTruthy();
    await press('Stop');
  });

  it('say that there are none', async () => {
    serve({ 'GET /api/captures': [] });
    show(<CaptureHistory />);
    expect(await screen.findByText('Nothing was captured yet.')).toBeTruthy();
  });
});

const staged = {
  job: job('done', ''),
  phase: 'done',
  certainty: 0.95,
  wanted: 500,
  price: 0.002,
  currency: 'EUR',
  saved: 0.4,
  same: 0.98,
  batches: [
    { captured: 100, expected: 20, unknown: 380 },
    { captured: 280, expected: 220, unknown: 0 },
  ],
  audit: { audited: 63, right: 63, lower: 0.943 },
  isBorneOut: false,
};
const stages = (capture: object | null) => ({ captured: 280, expected: 220, unknown: 0, capture });

describe('a capture in stages', () => {
  it('says what is known for how much, and that a small audit proves little', async () => {
    serve({ 'GET /api/captures/stages': stages(staged) });
    const captureRest = vi.fn();
    show(<StagedPart captureRest={captureRest} />);
    expect(await screen.findByRole('img', { name: '100 % of 500 keywords known for 0.560 EUR' })).toBeTruthy();
    expect(screen.getByText(/Audit: 63 of 63 expected keywords/).textContent).toContain('94 %');
    expect(screen.getByText(/All were right, but 63 are too few to prove 95 %/)).toBeTruthy();
    await press('Capture the rest for 0.400 EUR');
    expect(captureRest).toHaveBeenCalledOnce();
  });

  it('says that its audit is under way, and offers no rest before that', async () => {
    serve({ 'GET /api/captures/stages': stages({ ...staged, phase: 'auditing', audit: null }) });
    show(<StagedPart captureRest={() => undefined} />);
    expect(await screen.findByText(/are being captured as an audit/)).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('says nothing more of an audit that bears it out', async () => {
    serve({
      'GET /api/captures/stages': stages({
        ...staged,
        audit: { audited: 90, right: 90, lower: 0.96 },
        isBorneOut: true,
      }),
    });
    show(<StagedPart />);
    await screen.findByText(/Audit: 90 of 90/);
    expect(screen.queryByText(/too few to prove/)).toBeNull();
  });

  it('is summed up in the tally, and is nothing where there was none', async () => {
    serve({ 'GET /api/captures/stages': stages(staged) });
    const { unmount } = show(<StagesTally />);
    expect((await screen.findByText('280')).closest('span')!.textContent).toBe(
      'in all 280 captured, 220 expected, 0 unknown',
    );
    unmount();
    const asked = serve({ 'GET /api/captures/stages': stages(null) });
    const { container } = show(<StagesTally />);
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(container.querySelector('b')).toBeNull();
  });
});
