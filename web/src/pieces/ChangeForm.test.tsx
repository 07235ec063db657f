import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Form, Input } from 'antd';
import { describe, expect, it, vi } from 'vitest';
import { ApiError } from '../api/client';
import { press, show, told, write } from '../testing';
import { ChangeForm } from './ChangeForm';
import { ReasonForm } from './ReasonForm';
import { RenameForm } from './RenameForm';

type Steps = { page: string; note: string };

function showSteps(
  change: (values: Steps) => Promise<unknown>,
  more: Partial<React.ComponentProps<typeof ChangeForm<Steps, unknown>>> = {},
) {
  show(
    <ChangeForm values={{ page: '', note: 'as it was' }} change={change} done={() => 'Added.'} act="Add" {...more}>
      <Form.Item name="page" label="Page">
        <Input />
      </Form.Item>
    </ChangeForm>,
  );
}

describe('a form that makes a change', () => {
  it('sends what was entered with what it was given, and says what was done', async () => {
    const change = vi.fn(() => Promise.resolve());
    showSteps(change);
    write('Page', '/hire');
    await press('Add');
    await waitFor(() => expect(told()).toBe('Added.'));
    expect(change).toHaveBeenCalledExactlyOnceWith({ page: '/hire', note: 'as it was' });
  });

  it('sends nothing until there is something to send, neither by its button nor by Enter', async () => {
    const change = vi.fn(() => Promise.resolve());
    showSteps(change, { isReady: (values) => values.page.trim() !== '' });
    write('Page', '  ');
    fireEvent.submit(screen.getByLabelText('Page').closest('form')!);
    await act(() => new Promise((resolve) => setTimeout(resolve, 20)));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add' }).disabled).toBe(true);
    expect(change).not.toHaveBeenCalled();
    write('Page', '/hire');
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add' }).disabled).toBe(false));
    await press('Add');
    await waitFor(() => expect(change).toHaveBeenCalledOnce());
  });

  it('cannot be sent while it is blocked', async () => {
    const change = vi.fn(() => Promise.resolve());
    showSteps(change, { isBlocked: true });
    fireEvent.submit(screen.getByLabelText('Page').closest('form')!);
    await act(() => new Promise((resolve) => setTimeout(resolve, 20)));
    expect(change).not.toHaveBeenCalled();
  });

  it('is sent once, however often its key is pressed', async () => {
    let finish: (() => void) | undefined;
    const change = vi.fn(() => new Promise<void>((resolve) => (finish = resolve)));
    showSteps(change);
    const form = screen.getByLabelText('Page').closest('form')!;
    fireEvent.submit(form);
    await waitFor(() => expect(change).toHaveBeenCalledOnce());
    fireEvent.submit(form);
    await act(() => new Promise((resolve) => setTimeout(resolve, 20)));
    finish!();
    await waitFor(() => expect(told()).toBe('Added.'));
    expect(change).toHaveBeenCalledOnce();
  });

  it('tells a refusal beside the field that it names, until that field is changed', async () => {
    showSteps(() => Promise.reject(new ApiError('There is no page “/hire”.', 'page')));
    write('Page', '/hire');
    await press('Add');
    expect(await screen.findByText('There is no page “/hire”.')).toBeTruthy();
    const field = screen.getByLabelText('Page');
    expect(field.getAttribute('aria-invalid')).toBe('true');
    expect(screen.getByLabelText<HTMLInputElement>('Page').value).toBe('/hire');
    expect(told()).toBe('');
    write('Page', '/hires');
    await waitFor(() => expect(screen.getByLabelText('Page').getAttribute('aria-invalid')).not.toBe('true'));
  });

  it('tells a refusal of a field that it has not above its buttons', async () => {
    showSteps(() => Promise.reject(new ApiError('Kinds 3: too many.', 'kinds[3]')));
    await press('Add');
    expect((await screen.findByRole('alert')).textContent).toBe('Kinds 3: too many.');
    expect(told()).toBe('');
    // It is about what was sent, and goes when that is changed.
    write('Page', '/hire');
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  });

  it('leaves what names no field to the tally bar', async () => {
    showSteps(() => Promise.reject(new ApiError('The disk is full.')));
    await press('Add');
    await waitFor(() => expect(told()).toBe('The disk is full.'));
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('empties only the fields that it is told to, and only when the change was made', async () => {
    let fails = true;
    const change = () => (fails ? Promise.reject(new ApiError('Not now.')) : Promise.resolve());
    showSteps(change, { clears: ['page'] });
    write('Page', '/hire');
    await press('Add');
    await waitFor(() => expect(told()).toBe('Not now.'));
    expect(screen.getByLabelText<HTMLInputElement>('Page').value).toBe('/hire');
    fails = false;
    await press('Add');
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('Page').value).toBe(''));
  });

  it('shows below what the fields lead to, which can change them', async () => {
    const change = vi.fn(() => Promise.resolve());
    showSteps(change, {
      below: (values, set) => (
        <button type="button" onClick={() => set({ page: '/' })}>
          instead of {values.page}
        </button>
      ),
    });
    write('Page', '/hire');
    fireEvent.click(await screen.findByText('instead of /hire'));
    expect(screen.getByLabelText<HTMLInputElement>('Page').value).toBe('/');
    await press('Add');
    await waitFor(() => expect(change).toHaveBeenCalledWith({ page: '/', note: 'as it was' }));
  });
});

describe('the form for a reason', () => {
  const shown = () => {
    const [change, close] = [vi.fn(() => Promise.resolve()), vi.fn()];
    show(<ReasonForm question="Why?" placeholder="because" act="Dismiss" change={change} close={close} />);
    return { change, close };
  };
  it('wants a reason that is more than blanks', async () => {
    const { change } = shown();
    write('Why?', '   ');
    fireEvent.submit(screen.getByLabelText('Why?').closest('form')!);
    write('Why?', 'both are wanted');
    await press('Dismiss');
    await waitFor(() => expect(change).toHaveBeenCalledExactlyOnceWith('both are wanted'));
  });
  it('is left by Escape and by Cancel', async () => {
    const { close } = shown();
    fireEvent.keyDown(screen.getByLabelText('Why?'), { key: 'Escape' });
    await press('Cancel');
    expect(close).toHaveBeenCalledTimes(2);
  });
});

describe('the form for a name', () => {
  it('offers Rename once the name is another', async () => {
    const rename = vi.fn(() => Promise.resolve());
    show(<RenameForm label="Name" name="kayak hire" rename={rename} />);
    const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Rename' });
    expect(button.disabled).toBe(true);
    write('Name', 'boat hire');
    await waitFor(() => expect(button.disabled).toBe(false));
    await press('Rename');
    await waitFor(() => expect(rename).toHaveBeenCalledWith('boat hire'));
  });
});
