import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { isDisabled, press, Refusal, sent, serve, show, told } from '../testing';
import { PlanImportPane } from './PlanImportPane';

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const preview = {
  changes: [
    { stepId: 4, says: 'status: to do → done' },
    { stepId: 9, says: 'owner: Ada → Bo' },
  ],
  same: 1,
  rejected: [{ line: 7, column: 'Due', reason: 'Is no day.', value: 'soon' }],
};

const choose = () =>
  fireEvent.change(document.querySelector('input[type=file]')!, {
    target: { files: [new File(['Step,Status\n4,done\n'], 'plan.csv')] },
  });

describe('a plan that comes back', () => {
  it('is looked at before it is applied', async () => {
    const asked = serve({ 'POST /api/uploads': { uploadId: 'u1' }, 'POST /api/plan/import': preview });
    show(<PlanImportPane close={() => undefined} />);
    expect(isDisabled('Apply')).toBe(true);
    choose();
    expect(await screen.findByText('2 steps would change, 1 row says what is there already, 1 rejected.')).toBeTruthy();
    expect(screen.getByText('owner: Ada → Bo')).toBeTruthy();
    expect(screen.getByText('Is no day.')).toBeTruthy();
    expect(sent(asked).at(-1)!.body).toEqual({ uploadId: 'u1', apply: false });
  });

  it('is applied as one step, and the pane closes', async () => {
    const close = vi.fn();
    const asked = serve({ 'POST /api/uploads': { uploadId: 'u1' }, 'POST /api/plan/import': preview });
    show(<PlanImportPane close={close} />);
    choose();
    await press('Apply');
    await waitFor(() => expect(told()).toBe('2 steps changed.'));
    expect(sent(asked).at(-1)!.body).toEqual({ uploadId: 'u1', apply: true });
    expect(close).toHaveBeenCalled();
  });

  it('that changes nothing cannot be applied', async () => {
    serve({
      'POST /api/uploads': { uploadId: 'u1' },
      'POST /api/plan/import': { changes: [], same: 3, rejected: [] },
    });
    show(<PlanImportPane close={() => undefined} />);
    choose();
    expect(await screen.findByText(/^0 steps would change, 3 rows say what is there already/)).toBeTruthy();
    expect(isDisabled('Apply')).toBe(true);
  });

  it('says what is wrong with the file', async () => {
    serve({ 'POST /api/uploads': new Refusal(400, 'This is no table.', 'file') });
    show(<PlanImportPane close={() => undefined} />);
    choose();
    expect((await screen.findAllByText('This is no table.')).length).toBeGreaterThan(0);
  });
});
