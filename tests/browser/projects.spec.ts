import { readFileSync } from 'node:fs';
import { expect, pane, row, serious, tally, test } from './test';

/** Projects side by side: made, told apart, backed up, put away and taken along. Each test has the list for itself. */
test.use({ state: 'grouped', hasOwnWorld: true });

test('a second project is made from the first, and neither sees what the other has', async ({ page }) => {
  await page.goto('/');
  // With one project, its address is found without naming it.
  await expect(page).toHaveURL(/\/p\/project\/$/);
  await page.getByRole('link', { name: 'Projects', exact: true }).click();
  await expect(row(page, 'fenwater.example')).toContainText('Clusters');
  expect(await serious(page)).toEqual([]);
  await page.getByRole('button', { name: 'New project' }).click();
  await pane(page).getByLabel('Domain').fill('fenwater.example/de');
  await pane(page).getByLabel('Name of the project').fill('Fenwater Germany');
  await pane(page).getByLabel('Country').fill('DE');
  await pane(page).getByLabel('Language').fill('de');
  await pane(page).getByRole('button', { name: 'Create and open' }).click();
  await expect(page).toHaveURL(/\/p\/fenwater-germany\/$/);
  await expect(page.getByRole('banner')).toContainText('Germany · German');
  await page.getByRole('link', { name: /^Keywords/ }).click();
  await expect(page.getByText('0 keywords').first()).toBeVisible();
  // A link that names no project leads to the list now.
  await page.goto('/keywords');
  await expect(page).toHaveURL(/\/projects$/);
  await row(page, 'Fenwater Germany').getByRole('link').click();
  await expect(page.getByRole('banner')).toContainText('Germany · German');
});

test('a backup is made, and restored over what came after it', async ({ page, server }) => {
  await page.goto('/projects?id=project');
  await pane(page).getByRole('button', { name: 'Back up now' }).click();
  await expect(pane(page).getByRole('table', { name: 'Backups' })).toContainText('on demand');
  await server.send('POST', '/api/keywords/paste', { text: 'one more' });
  const before = await server.get<{ tally: { rows: number } }>('/api/keywords');
  await pane(page).getByRole('button', { name: 'Restore' }).click();
  await page.getByRole('tooltip').getByRole('button', { name: 'Restore' }).click();
  await expect(page.getByText(/^Restored\. Restore the backup of .* to undo that\.$/)).toBeVisible();
  await expect(pane(page).getByRole('table', { name: 'Backups' })).toContainText('before a restore');
  const after = await server.get<{ tally: { rows: number } }>('/api/keywords');
  expect(after.tally.rows).toBe(before.tally.rows - 1);
});

test('a project is archived and taken back, deleted and taken back, and goes along as a file', async ({ page }) => {
  await page.goto('/projects?id=project');
  const download = page.waitForEvent('download');
  await pane(page).getByRole('link', { name: 'Export as one file' }).click();
  const file = await (await download).path();
  expect(readFileSync(file).subarray(0, 15).toString()).toBe('SQLite format 3');
  await page.getByRole('button', { name: 'Import a project' }).click();
  await pane(page).locator('input[type=file]').setInputFiles(file);
  await pane(page).getByLabel('Name').fill('Brought along');
  await pane(page).getByRole('button', { name: 'Import', exact: true }).click();
  await expect(tally(page)).toContainText('2 projects');
  await expect(pane(page).getByRole('heading', { name: 'Brought along' })).toBeVisible();
  await pane(page).getByRole('button', { name: 'Archive' }).click();
  await expect(tally(page)).toContainText('1 project');
  await page.getByRole('button', { name: 'archived 1' }).click();
  await row(page, 'Brought along').click();
  await pane(page).getByRole('button', { name: 'Take back' }).click();
  await expect(tally(page)).toContainText('2 projects');
  await pane(page).getByRole('button', { name: 'Delete', exact: true }).first().click();
  await page.getByRole('button', { name: 'trash 1' }).click();
  await row(page, 'Brought along').click();
  await expect(pane(page)).toContainText('It is deleted for good on');
  await pane(page).getByRole('button', { name: 'Take back' }).click();
  await row(page, 'Brought along').getByRole('link').click();
  await page.getByRole('link', { name: /^Clusters/ }).click();
  await expect(tally(page)).toContainText(/\d+ clusters/);
});
