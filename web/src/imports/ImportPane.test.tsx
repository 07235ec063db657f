import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { choose, press, Refusal, sent, serve, show, told, write } from '../testing';
import { ImportPane } from './ImportPane';

const columns = {
  keywords: [
    { name: 'keyword', says: 'the phrase', isRequired: true },
    { name: 'volume', says: 'searches a month', isRequired: false },
  ],
};
const upload = {
  uploadId: 'u1',
  fileName: 'list.csv',
  says: 'semicolons, UTF-8, 3 rows',
  header: ['Suchbegriff', 'Volumen', ''],
  sample: [['kajak', '1200', 'x']],
  columns: { keywords: {} },
  remembered: [],
  looksLike: [],
};
const done = {
  id: 7,
  state: 'done',
  label: 'Import',
  message: '2 new keywords, 0 updated; 1 row rejected.',
  canResume: false,
};

function shown(answers: Record<string, unknown> = {}) {
  const asked = serve({
    'GET /api/imports/columns': columns,
    'POST /api/uploads': upload,
    'POST /api/imports': { id: 7 },
    'GET /api/jobs/{id}': done,
    'GET /api/imports/{id}/rejected': [{ line: 4, column: 'volume', reason: 'Is not a whole number.', value: 'viele' }],
    ...answers,
  });
  const close = vi.fn();
  show(<ImportPane kind="keywords" close={close} />);
  return { asked, close };
}

async function paste() {
  write('Rows to import', 'Suchbegriff;Volumen;\nkajak;1200;x');
  await press('Use pasted rows');
  await screen.findByText(/semicolons, UTF-8, 3 rows/);
}

describe('the pane that imports', () => {
  it('wants the required column mapped before it imports, and shows the first row of each', async () => {
    const { asked, close } = shown();
    await paste();
    expect(screen.getByText('Choose the column that holds the keyword.')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Import' }).disabled).toBe(true);
    await choose('Column for keyword', 'Suchbegriff');
    expect(await screen.findByText('kajak')).toBeTruthy();
    await choose('Column for volume', 'column 3');
    await choose('Column for volume', 'Volumen');
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Import' }).disabled).toBe(false));
    await press('Import');
    expect(await screen.findByText('2 new keywords, 0 updated; 1 row rejected.')).toBeTruthy();
    expect(sent(asked).at(-1)!.body).toEqual({
      uploadId: 'u1',
      fileName: 'list.csv',
      kind: 'keywords',
      columns: { keyword: 0, volume: 1 },
    });
    expect((await screen.findByText('Is not a whole number.')).closest('tr')!.textContent).toContain('viele');
    await press('Done');
    expect(close).toHaveBeenCalledOnce();
  });

  it('maps as it was done before, and leaves out a column on request', async () => {
    const { asked } = shown({
      'POST /api/uploads': { ...upload, columns: { keywords: { keyword: 0, volume: 1 } }, remembered: ['keywords'] },
    });
    await paste();
    expect(screen.getByText(/mapped as you did for such a file before/)).toBeTruthy();
    await press('Import');
    await screen.findByText('2 new keywords, 0 updated; 1 row rejected.');
    expect(sent(asked).at(-1)!.body).toMatchObject({ columns: { keyword: 0, volume: 1 } });
    await press('Import another file');
    expect(await screen.findByLabelText('Rows to import')).toBeTruthy();
  });

  it('warns of a file that looks like something else', async () => {
    shown({ 'POST /api/uploads': { ...upload, looksLike: ['results'] } });
    await paste();
    expect(screen.getByText(/The header looks like result lists, not keywords/)).toBeTruthy();
  });

  it('says what is wrong with a file, and with an import', async () => {
    let reads = false;
    shown({
      'POST /api/uploads': () =>
        reads ? { ...upload, columns: { keywords: { keyword: 0 } } } : new Refusal(400, 'The file is empty.'),
      'POST /api/imports': new Refusal(409, 'An import is running already.'),
    });
    write('Rows to import', ' x');
    await press('Use pasted rows');
    await waitFor(() => expect(told()).toBe('The file is empty.'));
    reads = true;
    await paste();
    await press('Import');
    await waitFor(() => expect(told()).toBe('An import is running already.'));
    expect(screen.getByLabelText('Column for keyword')).toBeTruthy();
  });

  it('shows how far it is, with the time left', async () => {
    const running = {
      ...done,
      state: 'running',
      progress: { phase: 'Reading rows', done: 500, total: 2000, secondsLeft: 4 },
    };
    shown({
      'POST /api/uploads': { ...upload, columns: { keywords: { keyword: 0 } } },
      'GET /api/jobs/{id}': running,
    });
    await paste();
    await press('Import');
    expect(await screen.findByText('Reading rows: 500 of 2,000, 4 s left')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
  });
});
