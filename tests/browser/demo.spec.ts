import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';

/** The demo, from findings to work that is done and seen on the site. */
test.describe.configure({ mode: 'serial' });
const root = 'http://localhost:5191';
test.use({ baseURL: root });

const row = (page: Page, text: string) => page.getByRole('row').filter({ hasText: text }).first();
const pane = (page: Page) => page.getByRole('complementary', { name: 'Evidence' });
const tally = (page: Page) => page.getByRole('status', { name: 'Tally' });

const kept = '/dry-suits';
const moved = '/guides/dry-suit-guide';
const left = '/magazine/sit-on-tops-of-the-year';

test.beforeAll(async ({ request }) => {
  test.setTimeout(120_000);
  await expect
    .poll(async () => (await request.get(`${root}/api/jobs/active`)).text(), { timeout: 100_000, intervals: [500] })
    .toBe('[]');
});

test('conflicts are decided and a page is planned: each becomes a step', async ({ page }) => {
  for (const about of [moved, left]) {
    await page.goto(`/findings?kind=conflict&search=${encodeURIComponent(about)}`);
    await row(page, about).click();
    await pane(page)
      .getByRole('button', { name: /side by side/ })
      .click();
    await pane(page).getByText('Keep one, redirect the others').click();
    await pane(page).getByRole('button', { name: 'Decide' }).click();
    await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  }
  await page.goto('/plan');
  await expect(row(page, moved)).toContainText('Redirect');
  await expect(row(page, left)).toContainText('Redirect');
  await expect(row(page, '/guides/sea-kayaking-the-norfolk-broads')).toContainText('Write');
  await row(page, moved).click();
  await expect(pane(page)).toContainText(`Redirect it to ${kept}`);
  await expect(pane(page)).toContainText('clicks a month for 0.25 hours');
  await expect(pane(page)).toContainText('The address redirects to');
  await row(page, '/guides/sea-kayaking-the-norfolk-broads').click();
  await expect(pane(page)).toContainText('from nowhere to 3rd');
  await expect(pane(page)).toContainText('in the sitemap');
});

test('people and their hours fill the roadmap', async ({ page }) => {
  await page.goto('/plan');
  await page.getByRole('button', { name: 'People and hours' }).click();
  await pane(page).getByRole('button', { name: 'Add a person' }).click();
  await pane(page).getByLabel('Name 1').fill('Ada');
  await pane(page).getByLabel('Hours a week 1').fill('12');
  await pane(page).getByRole('button', { name: 'Save' }).click();
  await page.getByRole('link', { name: 'roadmap' }).click();
  const roadmap = page.getByRole('application', { name: 'Roadmap, weeks across' });
  await expect(roadmap).toContainText('Ada');
  await expect(roadmap.getByRole('button', { name: /Write: .*norfolk/ })).toBeVisible();
  await expect(tally(page)).toContainText(/steps in \d+ weeks/);
  // The keyboard moves through the steps, and a step by a week.
  await roadmap.getByRole('button', { name: /Write: .*norfolk/ }).click();
  await expect(pane(page)).toContainText('Why here');
  await roadmap.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(pane(page)).toContainText('Its week was chosen by a planner.');
  await page.keyboard.press('Delete');
  await expect(pane(page)).not.toContainText('Its week was chosen by a planner.');
  await page.getByText('As a table').click();
  await expect(page.getByRole('columnheader', { name: 'Expected' })).toBeVisible();
  const found = await new AxeBuilder({ page }).analyze();
  const serious = found.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  expect(serious.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)).toEqual([]);
});

test('what is done goes live when the site shows it, and says why where it does not', async ({ page, request }) => {
  await page.goto('/plan?kind=redirect');
  for (const about of [moved, left]) {
    await row(page, about).click();
    // The key is for the step that is shown.
    await expect(row(page, about)).toHaveAttribute('aria-selected', 'true');
    await expect(pane(page)).toContainText(about);
    await page.keyboard.press('x');
    await expect(row(page, about)).toContainText('done');
  }
  // The site applies one of the two.
  const told = await request.post('http://localhost:5192/control/site', { data: { path: moved, redirectTo: kept } });
  expect(told.status()).toBe(204);
  await page.getByRole('button', { name: 'Check 2 done steps now' }).click();
  await expect(row(page, left)).toContainText('done, not verified', { timeout: 30_000 });
  await expect(row(page, moved)).toHaveCount(0);
  await row(page, left).click();
  await expect(pane(page)).toContainText('Not verified: it does not redirect; it answers with status 200');
  await page.goto('/plan?status=live');
  await row(page, moved).click();
  await expect(pane(page)).toContainText(
    /Found: redirects with status 301 to https:\/\/www\.fenwater\.example\/dry-suits/,
  );
  await expect(page.getByRole('link', { name: /Plan/ }).first()).toContainText('1 live');
});

test('a brief is made, read up, edited without a word typed, and a draft is checked', async ({ page }) => {
  await page.goto('/briefs');
  await page.getByLabel('Clusters').click();
  await page.getByTitle(/^kayak dry suit, /).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Make the brief' }).click();
  await expect(page.getByRole('heading', { name: '/dry-suits' })).toBeVisible();
  await page.getByRole('button', { name: /^Read [0-9]+$/ }).click();
  await expect(page.getByText('not read in the last 30 days')).toBeHidden({ timeout: 40_000 });
  await page.getByRole('button', { name: 'update the facts' }).click();
  const outline = page.getByRole('list', { name: 'Outline' });
  await expect(outline).toContainText('The relief zip');
  await expect(page.getByRole('complementary', { name: 'Evidence' })).toContainText('relief zip');
  // The section moves down by key, and undo brings it back.
  const first = await outline.getByRole('listitem').first().innerText();
  await outline.focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(outline.getByRole('listitem').nth(1)).toContainText(first.split('\n')[1]!);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(outline.getByRole('listitem').first()).toContainText(first.split('\n')[1]!);
  await page
    .getByRole('button', { name: /^Next of/ })
    .first()
    .click();
  await expect(page.getByRole('status', { name: 'Tally' })).toContainText('1 change by you');
  for (const format of ['docx', 'xlsx', 'html', 'md', 'json']) {
    const answer = await page.request.get(`/api/briefs/1/brief.${format}`);
    expect(answer.ok()).toBe(true);
    expect((await answer.body()).length).toBeGreaterThan(1_000);
  }
  await page.getByRole('button', { name: 'Check a text' }).click();
  await page.getByLabel('The draft', { exact: true }).fill('# Kayak dry suit\n\nA kayak dry suit has a relief zip.\n');
  const pane = page.getByRole('complementary', { name: 'Evidence' });
  await expect(pane).toContainText('8 words');
  await expect(pane.getByRole('row').filter({ hasText: 'kayak dry suit price' })).toContainText('missing');
  await expect(
    pane
      .getByRole('row')
      .filter({ hasText: /^kayak dry suit(?! )/ })
      .first(),
  ).toContainText('H1, text');
  const axe = await new AxeBuilder({ page }).analyze();
  expect(axe.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')).toEqual([]);
});

test('links that are missing come with their passage, and become steps', async ({ page }) => {
  await page.goto('/plan?view=links');
  await expect(page.getByRole('region', { name: 'Missing links' })).toContainText('should link to');
  await page
    .getByRole('checkbox', { name: /Pick the link from/ })
    .first()
    .check();
  await page.getByRole('button', { name: 'Add 1 link to the plan' }).click();
  await expect(page.getByRole('region', { name: 'Missing links' })).toContainText('in the plan');
  await page.goto('/plan?kind=link');
  await expect(tally(page)).toContainText('1 step');
});
