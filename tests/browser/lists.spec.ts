import { type Page } from '@playwright/test';
import { expect, pane, serious, test } from './test';

/** What every list does: columns, places, links, colours, small windows, and what assistive technology is told. */
test.use({ state: 'demo', reads: true });

const clusters = (page: Page) => page.getByRole('grid', { name: 'clusters' });
const column = (page: Page, name: string) => clusters(page).getByRole('columnheader', { name: new RegExp(`^${name}`) });

test('columns are chosen, ordered and resized, and the choice is remembered', async ({ page }) => {
  await page.goto('/clusters');
  await expect(column(page, 'Intent')).toBeVisible();
  // What tells clusters apart is whole at this width; what says less has yielded.
  await expect(column(page, 'Topic')).toBeVisible();
  await expect(column(page, 'Cohesion')).toBeHidden();
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Intent' }).uncheck();
  await page.getByRole('checkbox', { name: 'Cohesion' }).check();
  const before = (await column(page, 'Demand').boundingBox())!.width;
  await page.getByRole('button', { name: 'Make Demand wider' }).click();
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Move Page left' }).click();
  await expect(column(page, 'Intent')).toBeHidden();
  await page.reload();
  await expect(column(page, 'Cohesion')).toBeVisible();
  await expect(column(page, 'Intent')).toBeHidden();
  expect((await column(page, 'Demand').boundingBox())!.width).toBeGreaterThan(before + 20);
  const titles = await clusters(page).getByRole('columnheader').allInnerTexts();
  expect(titles.indexOf('Page')).toBeLessThan(titles.indexOf('Topic'));
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('button', { name: 'Reset' }).click();
  await expect(column(page, 'Intent')).toBeVisible();
});

test('back and forward restore the place, the selection and the scroll', async ({ page }) => {
  await page.goto('/clusters');
  await clusters(page).focus();
  await page.keyboard.press('ArrowDown');
  for (let i = 0; i < 3; i++) await page.keyboard.press('PageDown');
  const selected = clusters(page).getByRole('row', { selected: true });
  // The first row below the heading, and three times twenty: the last key may still be on its way.
  await expect(selected).toHaveAttribute('aria-rowindex', '62');
  const name = await selected.innerText();
  const scrolled = await clusters(page).evaluate((grid) => grid.scrollTop);
  expect(scrolled).toBeGreaterThan(500);
  await page.getByRole('link', { name: /^Findings/ }).click();
  await expect(page.getByRole('heading', { name: 'Findings', level: 1 })).toBeVisible();
  await page.goBack();
  await expect(selected).toBeVisible();
  expect(await selected.innerText()).toBe(name);
  expect(Math.abs((await clusters(page).evaluate((grid) => grid.scrollTop)) - scrolled)).toBeLessThan(40);
  await page.goForward();
  await expect(page.getByRole('heading', { name: 'Findings', level: 1 })).toBeVisible();
});

test('a link has what is shown, selected and picked', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto('/keywords?minVolume=1000');
  const keywords = page.getByRole('grid', { name: 'keywords' });
  await keywords.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await expect(page.getByRole('row', { selected: true })).toHaveAttribute('aria-rowindex', '3');
  await page.getByRole('button', { name: 'Copy link' }).click();
  await expect(page.getByText('Link copied.')).toBeVisible();
  const address = await page.evaluate(() => navigator.clipboard.readText());
  const other = await context.newPage();
  await other.goto(address);
  await expect(other.getByRole('grid', { name: 'keywords' }).getByRole('checkbox', { checked: true })).toHaveCount(2);
  await expect(other.getByRole('row', { selected: true })).toBeVisible();
});

test('a link to a row far down scrolls to it, and keys go on from there', async ({ page, server }) => {
  const far = 400;
  const { rows } = await server.get<{ rows: { id: number; phrase: string }[] }>(`/api/keywords?Offset=${far}&Limit=2`);
  await page.goto(`/keywords?id=${rows[0]!.id}`);
  const selected = page.getByRole('row', { selected: true });
  await expect(selected).toBeInViewport({ ratio: 1 });
  await expect(selected).toHaveAttribute('aria-rowindex', String(far + 2));
  await expect(selected).toContainText(rows[0]!.phrase);
  await page.getByRole('grid', { name: 'keywords' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(selected).toContainText(rows[1]!.phrase);
  await expect(selected).toHaveAttribute('aria-rowindex', String(far + 3));
});

for (const path of ['/', '/clusters?id=1', '/page-map?id=1', '/findings', '/plan', '/briefs', '/refresh?view=queries'])
  test(`axe finds nothing serious by night on ${path}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: 'dark' });
    await page.goto(path);
    await expect(page.getByRole('group', { name: 'Tally' })).toContainText(/\d/);
    await expect(page.locator('html')).toHaveCSS('color-scheme', 'dark');
    expect(await serious(page)).toEqual([]);
  });

test('at 200 % nothing lies outside the window, and the pane is below the list', async ({ page }) => {
  await page.setViewportSize({ width: 640, height: 700 });
  await page.goto('/clusters?id=1');
  await expect(pane(page).getByRole('heading').first()).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(640);
  const list = (await clusters(page).boundingBox())!;
  expect((await pane(page).boundingBox())!.y).toBeGreaterThan(list.y);
});

test('a wide window shows more columns', async ({ page }) => {
  await page.setViewportSize({ width: 2560, height: 1200 });
  await page.goto('/clusters');
  for (const name of ['Cohesion', 'Weak', 'By month', 'Diff.', 'Intent'])
    await expect(column(page, name)).toBeVisible();
});

test('assistive technology is told which row is the active one, of how many', async ({ page }) => {
  await page.goto('/page-map');
  const map = page.getByRole('grid', { name: 'page map' });
  await map.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  const selected = map.getByRole('row', { selected: true });
  await expect(map).toHaveAttribute('aria-activedescendant', (await selected.getAttribute('id'))!);
  await expect(selected).toHaveAttribute('aria-rowindex', '3');
  expect(Number(await map.getAttribute('aria-rowcount'))).toBeGreaterThan(100);
  await expect(page.getByRole('navigation', { name: 'Stages' })).toMatchAriaSnapshot(`
    - navigation "Stages":
      - link /Site .* pages/
      - link /Keywords .* keywords/
      - link /Results .* captured/
      - link /Clusters .* topics/
      - link /Page map .* mapped/
      - link /Findings .* open/
      - link /Plan/
      - link /Briefs/
      - link /Refresh/
  `);
});

test('forced colours mark the selected row by an outline', async ({ page }) => {
  await page.emulateMedia({ forcedColors: 'active' });
  await page.goto('/clusters?id=1');
  await expect(clusters(page).getByRole('row', { selected: true })).toHaveCSS('outline-style', 'solid');
});

test('the palette goes anywhere, and what was looked at is among the recent places', async ({ page }) => {
  await page.goto('/clusters?id=1');
  await expect(page).toHaveTitle(/ · Clusters$/);
  const name = (await page.title()).split(' · ')[0]!;
  // Long enough to have been looked at.
  await page.waitForTimeout(1500);
  await page.keyboard.press('k');
  await page.getByRole('combobox', { name: 'Go to or do' }).fill('refr');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Refresh', level: 1 })).toBeVisible();
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('option', { selected: true })).toContainText(name);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/clusters\?id=1/);
});
