import type { Browser } from '@playwright/test';
import { dataFolder, freePort, type Server, sharedServices, startServer } from './server';
import { expect, pane, row, serious, tally, test } from './test';

/** A team: a planner, a writer and a reader, each with a browser of their own. */
const password = 'four words and some';
let server: Server;
let address: string;

test.beforeAll(async () => {
  const port = await freePort();
  address = `http://localhost:${port}`;
  const listen = ['--listen', '127.0.0.1', '--listen-port', String(port)];
  server = await startServer(dataFolder('briefed'), sharedServices, ...listen);
  // On the machine itself nobody signs in, so that it can be told who may.
  for (const [name, role] of [
    ['Ada Lind', 'planner'],
    ['Wim Okoro', 'writer'],
    ['Rea Sand', 'reader'],
  ])
    await server.project.send('POST', '/api/team', { name, role, password });
});
test.afterAll(() => server.end('SIGKILL'));

async function signIn(browser: Browser, name: string, path = '/p/project/keywords') {
  const page = await (await browser.newContext()).newPage();
  await page.goto(address + path);
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('button', { name: `Signed in as ${name}` })).toBeVisible();
  return page;
}

test('what a planner changes, a reader sees at once with who it was', async ({ browser }) => {
  const ada = await signIn(browser, 'Ada Lind');
  const rea = await signIn(browser, 'Rea Sand');
  await expect(tally(rea)).toBeVisible();
  const before = await rea.getByRole('link', { name: /^Keywords/ }).textContent();
  await ada.getByRole('button', { name: 'Bring keywords' }).click();
  await pane(ada).getByRole('radio', { name: 'Paste' }).click();
  await pane(ada).getByRole('textbox').first().fill('a kayak for two and a dog');
  await pane(ada).getByRole('button', { name: 'Bring', exact: true }).click();
  await expect(rea.getByLabel('Changes of others')).toHaveText('Ada Lind: Paste a keyword');
  await expect(rea.getByRole('link', { name: /^Keywords/ })).not.toHaveText(before!);
  await expect(ada.getByLabel('Changes of others')).toHaveText('');
  await rea.getByRole('button', { name: 'History' }).click();
  await expect(rea.getByRole('dialog')).toContainText(/Paste a keyword.*Ada Lind/);
});

test('a reader is told what they cannot do, and nothing is changed', async ({ browser }) => {
  const rea = await signIn(browser, 'Rea Sand');
  await expect(rea.getByRole('banner').getByRole('button', { name: 'Undo' })).toBeDisabled();
  await row(rea, 'kayak').click();
  const rows = await tally(rea).textContent();
  await rea.getByRole('button', { name: 'take out of the project' }).click();
  await rea.getByRole('button', { name: 'Take out', exact: true }).click();
  await expect(rea.getByRole('alert')).toContainText('You can read this project, and a planner can change it.');
  await expect(tally(rea)).toHaveText(rows!);
  await rea.goto(`${address}/projects`);
  await expect(rea.getByRole('button', { name: 'Team' })).toHaveCount(0);
});

test('a writer reads a brief, checks a draft and hands it in', async ({ browser }) => {
  const { rows } = await server.project.get<{ rows: { id: number; primary: string }[] }>('/api/briefs');
  await server.project.send('PUT', `/api/briefs/${rows[0]!.id}`, { writer: 'Wim Okoro', state: 'sent' });
  const wim = await signIn(browser, 'Wim Okoro', '/');
  expect(await serious(wim)).toEqual([]);
  await expect(wim.getByRole('heading', { name: 'Your briefs' })).toBeVisible();
  await wim.getByRole('link', { name: rows[0]!.primary }).click();
  await wim.getByLabel('Draft').fill(`# All about ${rows[0]!.primary}\n\nA draft of a few words.`);
  await wim.getByRole('button', { name: 'Check' }).click();
  await expect(wim.getByRole('heading', { name: /words/ }).last()).toBeVisible();
  await wim.getByRole('button', { name: 'Hand in' }).click();
  await expect(wim.getByRole('status')).toHaveText('Handed in. The planner can read it now.');
  expect(await serious(wim)).toEqual([]);
  const ada = await signIn(browser, 'Ada Lind', `/p/project/briefs?id=${rows[0]!.id}`);
  await expect(pane(ada)).toContainText(/Wim Okoro.*text kept: handed in/);
});

test('a session that ends while one works goes on after signing in again', async ({ browser }) => {
  const wrong = await (await browser.newContext()).newPage();
  await wrong.goto(`${address}/`);
  expect(await serious(wrong)).toEqual([]);
  await wrong.getByLabel('Name').fill('Ada Lind');
  await wrong.getByLabel('Password', { exact: true }).fill('not this one');
  await wrong.keyboard.press('Enter');
  await expect(wrong.getByRole('alert')).toHaveText('The name or the password is wrong.');
  const ada = await signIn(browser, 'Ada Lind');
  await ada.getByRole('button', { name: 'Bring keywords' }).click();
  await pane(ada).getByRole('radio', { name: 'Paste' }).click();
  await pane(ada).getByRole('textbox').first().fill('half a list');
  await ada.context().clearCookies();
  await pane(ada).getByRole('button', { name: 'Bring', exact: true }).click();
  const again = ada.getByRole('dialog', { name: 'Sign in again' });
  await again.getByLabel('Password', { exact: true }).fill(password);
  await again.getByRole('button', { name: 'Sign in' }).click();
  await expect(again).toBeHidden();
  await expect(pane(ada).getByRole('textbox').first()).toHaveValue('half a list');
  await pane(ada).getByRole('button', { name: 'Bring', exact: true }).click();
  await expect(tally(ada)).toContainText(/keyword/);
  await ada.getByRole('button', { name: 'Signed in as Ada Lind' }).click();
  await ada.getByRole('button', { name: 'Sign out' }).click();
  await expect(ada.getByLabel('Password', { exact: true })).toBeVisible();
  await ada.goto(`${address}/p/project/keywords`);
  await expect(ada.getByRole('button', { name: 'Sign in' })).toBeVisible();
});
