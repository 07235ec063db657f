import { type Page } from '@playwright/test';
import { expect, pane, row, serious, tally, test, undo } from './test';

/** The way from an empty project, a domain and a seed phrase, with no file, to results that are ready to be grouped. */

/** Adds a condition to the sentence, which opens its editor. On a busy machine the menu may go before the click arrives. */
const addCondition = (page: Page, name: string) =>
  expect(async () => {
    await page.getByRole('button', { name: 'add a condition' }).click({ timeout: 5_000 });
    await page.getByRole('menuitem', { name, exact: true }).click({ timeout: 5_000 });
    await expect(page.getByRole('group', { name, exact: true })).toBeVisible({ timeout: 5_000 });
  }).toPass({ timeout: 40_000 });

test.describe('from the project “empty”', () => {
  test.use({ state: 'empty' });

  test('a domain is named', async ({ page }) => {
    await page.goto('/site');
    await page.getByLabel('Domain').fill('fenwater.example');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByRole('link', { name: 'fenwater.example' })).toBeVisible();
  });
});

test.describe('from the project “domain”', () => {
  test.use({ state: 'domain' });

  test('the site is scanned in full, with its oddities told', async ({ page }) => {
    await page.goto('/site');
    await page.getByRole('button', { name: 'Scan the site' }).click();
    await page.getByLabel('What to read').click();
    await page.getByText('full: also text, word counts, links, dates').click();
    await page.getByRole('button', { name: 'more settings' }).click();
    await page.getByLabel('Requests a second').fill('200');
    await page.getByRole('button', { name: 'Scan', exact: true }).last().click();
    await expect(pane(page)).toContainText('found by sitemaps; 2 passed over; 241 new.', { timeout: 40_000 });
    await expect(tally(page)).toContainText('241 pages');
    await pane(page)
      .getByRole('button', { name: /what was not read/ })
      .click();
    await expect(pane(page)).toContainText('robots.txt asks not to read it');
    await page.getByRole('button', { name: 'further conditions' }).click();
    await page.getByLabel('Indexable').click();
    await page.getByText('not indexable').click();
    await page.getByRole('button', { name: 'Done' }).click();
    await expect(row(page, '/dry-suits-print')).toContainText('canonical elsewhere');
    await expect(row(page, '/thank-you')).toContainText('noindex');
    await row(page, '/old-dry-suits').click();
    await expect(pane(page)).toContainText('https://www.fenwater.example/dry-suits');
  });
});

test.describe('from the project “site”', () => {
  test.use({ state: 'site' });

  test('a seed brings ideas, suggestions and questions, each with its source', async ({ page }) => {
    await page.goto('/keywords');
    await page.getByRole('button', { name: 'Bring keywords' }).first().click();
    await page.getByLabel('Seeds, one a line').fill('dry suit');
    await page.getByText('related ones').click();
    await page.getByRole('button', { name: 'Bring', exact: true }).click();
    await expect(pane(page)).toContainText(/[0-9]+ keywords, [0-9]+ of them new\./);
    await page.getByRole('radio', { name: 'Suggestions' }).click();
    await page.getByLabel('Beginnings, one a line').fill('can you * in a kayak');
    await page.getByRole('button', { name: 'Bring', exact: true }).click();
    await expect(pane(page)).toContainText('10 keywords, 10 of them new.');
    await page.getByLabel('Search this list').fill('can you');
    await expect(row(page, 'can you sleep in a kayak')).toBeVisible();
    await page.getByLabel('Search this list').fill('');
    await row(page, 'kayak dry suit').click();
    await expect(pane(page)).toContainText('ideas for “dry suit”');
    await expect(pane(page)).toContainText('Nobody asked for them.');
  });
});

test.describe('from the project “ideas”', () => {
  test.use({ state: 'ideas' });

  test('keywords are sifted by conditions that read as a sentence, and the filter is saved', async ({ page }) => {
    await page.goto('/keywords');
    await addCondition(page, 'volume');
    await page.getByLabel('volume from').fill('50');
    await page.getByRole('button', { name: 'Done' }).click();
    await expect(page.getByRole('button', { name: 'volume: volume from 50' })).toBeVisible();
    await addCondition(page, 'words in');
    await page.getByRole('textbox', { name: 'words in' }).fill('dry suit, drysuit');
    await page.getByRole('button', { name: 'Done' }).click();
    await expect(page.getByRole('button', { name: /with any of: dry suit, drysuit/ })).toBeVisible();
    await expect(row(page, 'kayak dry suit')).toBeVisible();
    await page.getByRole('button', { name: 'saved filters' }).click();
    await page.getByLabel('Name of the filter').fill('Suits worth it');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('button', { name: 'show all' }).click();
    await expect(page.getByText('Showing all keywords')).toBeVisible();
    await page.getByRole('button', { name: 'saved filters' }).click();
    await page.getByRole('button', { name: 'Suits worth it', exact: true }).click();
    await expect(page.getByRole('button', { name: 'volume: volume from 50' })).toBeVisible();
  });
});

test.describe('from the project “ideas, read only”', () => {
  test.use({ state: 'ideas', reads: true });

  test('modifiers lead into the filter', async ({ page }) => {
    await page.goto('/keywords?view=modifiers');
    await page.getByRole('button', { name: 'dry suit', exact: true }).click();
    await expect(page.getByRole('button', { name: /with any of: dry suit/ })).toBeVisible();
  });
});

test.describe('from the project “ideas”', () => {
  test.use({ state: 'ideas' });

  test('close variants are merged on request and taken apart by undo', async ({ page }) => {
    await page.goto('/keywords?view=variants');
    await expect(tally(page)).toContainText(/[0-9]+ keywords/);
    const before = await tally(page).textContent();
    await page.getByRole('button', { name: 'Merge into', exact: false }).first().click();
    await expect(tally(page)).not.toHaveText(before!);
    await undo(page).click();
    await expect(tally(page)).toHaveText(before!);
  });

  test('what is sifted becomes a list', async ({ page }) => {
    await page.goto('/keywords?minVolume=50&wordsIn=dry suit');
    await page.getByRole('button', { name: 'make a list' }).click();
    await page.getByLabel('Name of the new list').fill('Suits');
    await page.getByRole('button', { name: 'Make', exact: true }).click();
    await expect(page.getByText(/The list “Suits” has [0-9]+ keywords/)).toBeVisible();
    await page.getByRole('button', { name: 'Lists' }).click();
    await expect(pane(page).getByRole('button', { name: 'Suits', exact: true })).toBeVisible();
  });
});

test.describe('from the project “suits”', () => {
  test.use({ state: 'suits' });

  test('a list is captured at a price that is told before, and shows its progress', async ({ page }) => {
    await page.goto('/keywords?listId=1');
    await page.getByRole('button', { name: 'capture results…' }).click();
    await expect(pane(page)).toContainText('Will be asked for');
    await pane(page)
      .getByRole('button', { name: /^Capture [0-9]+ for [0-9.]+ EUR$/ })
      .click();
    await expect(pane(page)).toContainText(/[0-9]+ result lists captured\./, { timeout: 40_000 });
    await expect(tally(page)).toContainText('captured 100 %');
    await row(page, 'kayak dry suit').click();
    await expect(pane(page)).toContainText('People also ask');
  });
});

test.describe('from the project “captured”', () => {
  test.use({ state: 'captured' });

  test('capturing in stages is stopped, goes on, and says what is expected and what the audit found', async ({
    page,
  }) => {
    await page.goto('/results');
    await page.getByRole('button', { name: 'Capture results' }).click();
    await pane(page)
      .getByRole('radio', {
        name: /^In stages: about [0-9,]+ for [0-9.]+ EUR, clusters expected to be (9[0-9]|100) % the same$/,
      })
      .click();
    await expect(pane(page).getByLabel('Certainty in per cent')).toHaveValue('95');
    await pane(page).getByRole('button', { name: 'Capture in stages' }).click();
    await pane(page).getByRole('button', { name: 'Stop' }).click();
    await pane(page).getByRole('button', { name: 'Resume' }).click();
    await expect(pane(page)).toContainText(/[0-9]+ keywords? (is|are) expected in a cluster without a result list/, {
      timeout: 60_000,
    });
    const part = pane(page).getByRole('region', { name: 'Capture in stages' });
    await expect(part).toContainText('Keywords captured or expected, by money spent');
    await expect(part).toContainText('Saved on expected keywords');
    await expect(tally(page)).toContainText(/captured, [0-9,]+ expected, 0 unknown/);
  });
});

test.describe('from the project “captured, read only”', () => {
  test.use({ state: 'captured', reads: true });

  test('what was captured is not asked for again, and two keywords are compared', async ({ page }) => {
    await page.goto('/results?listId=1');
    await page.getByRole('button', { name: 'Capture results' }).click();
    await expect(pane(page)).toContainText('All of them have a fresh list; nothing needs to be asked for.');
    await pane(page).getByRole('button', { name: 'Close' }).click();
    await row(page, 'kayak dry suit').getByRole('checkbox').click();
    await page.getByRole('grid', { name: 'result lists' }).focus();
    await page.getByRole('row').nth(3).getByRole('checkbox').click();
    await expect(pane(page)).toContainText(/They share [0-9]+ of the first 10\./);
  });
});

test.describe('from the project “captured”', () => {
  test.use({ state: 'captured' });

  test('the cluster stage is ready to run', async ({ page }) => {
    await page.goto('/clusters');
    await page.getByRole('button', { name: 'Group keywords' }).first().click();
    await page.getByRole('button', { name: 'Group', exact: true }).click();
    await expect(page.getByText(/^[0-9]+ clusters?\.$/)).toBeVisible();
  });
});

test.describe('from the project “clustered, read only”', () => {
  test.use({ state: 'clustered', reads: true });

  test('every step is in the history', async ({ page }) => {
    await page.goto('/');
    await page.getByRole('button', { name: 'History' }).click();
    for (const step of [
      'Regroup',
      'Make the list “Suits”',
      'Ideas for “dry suit”',
      'Scan of the site',
      'Change site and market',
    ])
      await expect(page.getByRole('dialog')).toContainText(step);
  });
});

test.describe('from the project “captured”', () => {
  test.use({ state: 'captured' });

  test('rivals are compared after their rankings were read', async ({ page }) => {
    await page.goto('/keywords?view=compare&rivals=saltwayboats.example');
    await page.getByRole('button', { name: 'saltwayboats.example', exact: true }).click();
    await expect(page.getByRole('button', { name: 'Take in' })).toBeVisible({ timeout: 50_000 });
    await expect(tally(page)).toContainText(/[1-9][0-9]* keywords/);
  });
});

const screens = [
  '/site?pane=scan',
  '/site?pane=services',
  '/keywords?id=1',
  '/keywords?view=modifiers',
  '/keywords?view=variants',
  '/keywords?view=compare&rivals=saltwayboats.example',
  '/results?id=1',
  '/results',
];
test.describe('looked at by axe', () => {
  test.use({ state: 'captured', reads: true });

  for (const path of screens) {
    test(`axe finds nothing serious on ${path}`, async ({ page }) => {
      await page.goto(path);
      await expect(tally(page)).toContainText(/\d/);
      expect(await serious(page)).toEqual([]);
    });
  }
});
