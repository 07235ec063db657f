import { readFileSync } from 'node:fs';
import { type Page } from '@playwright/test';
import { keywords, pages, performance, results } from './project';
import { expect, pane, row, serious, tally, test, undo, undoOnce } from './test';

/** The way of a planner who has four files, from an empty project to a plan. */

/** Chooses a file in the import pane, as a planner does. */
async function bring(page: Page, name: string, text: string) {
  await page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
}

const finding = (page: Page, text: string) =>
  page.getByRole('region', { name: 'Findings by kind' }).getByRole('button').filter({ hasText: text }).first();

test.describe('from the project “empty”', () => {
  test.use({ state: 'empty' });

  test('an empty project says what to do first', async ({ page }) => {
    await page.goto('/');
    await expect(page.getByRole('heading', { name: 'Start in one of three ways' })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Import keywords' })).toBeVisible();
    await page.getByRole('button', { name: 'Name the site', exact: true }).click();
    await page.getByLabel('Domain').fill('not a host');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('is not a domain')).toBeVisible();
    await page.getByLabel('Domain').fill('www.fenwater.example');
    await page.getByLabel('Name of the project').fill('Fenwater');
    await page.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByRole('link', { name: 'Fenwater', exact: true })).toBeVisible();
  });
});

test.describe('from the project “named”', () => {
  test.use({ state: 'named' });

  test('pages come in from a file whose columns have other names', async ({ page }) => {
    await page.goto('/site');
    await page.getByRole('button', { name: 'Import pages' }).first().click();
    await bring(page, 'seiten.csv', pages);
    await expect(page.getByText('Choose the column that holds the url.')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Import', exact: true })).toBeDisabled();
    for (const [column, name] of [
      ['url', 'Adresse'],
      ['title', 'Titel'],
    ] as const) {
      await page.getByLabel(`Column for ${column}`).click();
      await page
        .locator('.ant-select-dropdown:not(.ant-select-dropdown-hidden)')
        .last()
        .getByText(name, { exact: true })
        .click();
    }
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByText('4 new pages, 0 updated.')).toBeVisible();
    await expect(row(page, '/dry-suits')).toContainText('Dry suits for kayaking');
  });

  test('keywords come in, and a rejected row is told with line, column and reason', async ({ page }) => {
    await page.goto('/keywords');
    await page.getByRole('button', { name: 'Import keywords' }).first().click();
    await bring(page, 'keywords.csv', keywords);
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByText('7 new keywords, 0 updated; 1 row rejected.')).toBeVisible();
    await expect(pane(page).getByRole('row').filter({ hasText: 'Is not a whole number.' })).toContainText('volume');
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Download all as CSV' }).click();
    expect(readFileSync(await (await download).path(), 'utf8')).toContain('9,volume,Is not a whole number.,many');
    await expect(tally(page)).toContainText('7 keywords');
  });
});

test.describe('from the project “keywords”', () => {
  test.use({ state: 'keywords' });

  test('result lists come in, and a keyword shows its own', async ({ page }) => {
    await page.goto('/results');
    await page.getByRole('button', { name: 'Import result lists' }).first().click();
    await bring(page, 'results.csv', results);
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByText('37 results in 7 result lists.')).toBeVisible();
    await page.getByRole('button', { name: 'Done' }).click();
    await row(page, 'dry suit for kayaking').click();
    await expect(pane(page)).toContainText('2 pages of the site are among them, at positions 3, 5.');
  });
});

test.describe('from the project “files”', () => {
  test.use({ state: 'files' });

  test('keywords are grouped, and the result grid shows why', async ({ page }) => {
    await page.goto('/clusters');
    await page.getByRole('button', { name: 'Group keywords' }).first().click();
    await page.getByRole('button', { name: 'Group', exact: true }).click();
    await expect(page.getByText('3 clusters.', { exact: true })).toBeVisible();
    await row(page, 'kayak dry suit').click();
    await expect(pane(page)).toContainText('3 keywords share 4 to 5 of their first 10 results with the primary.');
    const own = page
      .getByRole('region', { name: 'Result grid' })
      .getByRole('row')
      .filter({ hasText: 'fenwater.example' })
      .first();
    await expect(own).toContainText('fenwater.example/dry-suits');
    await expect(own.locator('td')).toHaveText(['fenwater.example/dry-suits', '2', '3', '3']);
  });
});

test.describe('from the project “grouped”', () => {
  test.use({ state: 'grouped' });

  test('before a re-grouping it is told what each minimum would change', async ({ page }) => {
    await page.goto('/clusters');
    await page.getByRole('button', { name: 'Regroup', exact: true }).first().click();
    await expect(pane(page)).toContainText('No change from the current clusters.');
    await pane(page).getByRole('button', { name: 'Minimum overlap 7' }).click();
    const chosen = pane(page).locator('tr[aria-current]');
    await expect(chosen).toContainText('7');
    await expect(pane(page).getByRole('list', { name: 'Advice' })).toContainText('At 7, ');
    await expect(pane(page).getByRole('region', { name: 'Change report' })).toContainText('go on with other keywords');
  });

  test('clusters are renamed, split and merged, and undone', async ({ page }) => {
    await page.goto('/clusters');
    await row(page, 'kayak dry suit').click();
    await pane(page).getByLabel('Name of the cluster').fill('Dry suits');
    await pane(page).getByRole('button', { name: 'Rename' }).click();
    await expect(row(page, 'Dry suits')).toBeVisible();

    await pane(page).getByLabel('Tick dry suit for kayaking').check();
    await pane(page).getByRole('button', { name: 'Split off' }).click();
    await expect(row(page, 'dry suit for kayaking')).toBeVisible();
    await expect(tally(page)).toContainText('4 clusters');

    await pane(page).getByLabel('Merge with…').fill('how to roll');
    await page.locator('.ant-select-item-option').filter({ hasText: 'how to roll a kayak' }).click();
    await expect(pane(page)).toContainText('They share nothing: no result of');
    await pane(page).getByRole('button', { name: 'Merge', exact: true }).click();
    await expect(tally(page)).toContainText('3 clusters');

    for (const left of ['4 clusters', '3 clusters']) {
      await undo(page).click();
      await expect(tally(page)).toContainText(left);
    }
    await undo(page).click();
    await expect(row(page, 'kayak dry suit')).toBeVisible();
    await expect(row(page, 'Dry suits')).toHaveCount(0);
  });

  test('members are moved by drag and by key, a keyword is declined and taken back', async ({ page }) => {
    await page.goto('/clusters');
    await row(page, 'kayak dry suit').click();
    await pane(page)
      .getByRole('row')
      .filter({ hasText: 'dry suit for kayaking' })
      .last()
      .dragTo(row(page, 'kayak paddle'));
    await expect(page.getByText(/shares no result with its primary/)).toBeVisible();
    await expect(row(page, 'kayak paddle')).toContainText('3');
    await undo(page).click();
    await expect(row(page, 'kayak paddle')).toContainText('2');

    await pane(page).getByLabel('Tick dry suit for kayaking').check();
    await page.keyboard.press('m');
    await page.keyboard.type('paddle');
    await page.locator('.ant-select-item-option').filter({ hasText: 'kayak paddle' }).waitFor();
    await page.keyboard.press('Enter');
    await expect(pane(page)).toContainText('1 of 1 keyword shares no result');
    await undo(page).click();
    await expect(row(page, 'kayak paddle')).toContainText('2');

    await row(page, 'how to roll a kayak').click();
    await pane(page).getByLabel('Tick how to roll a kayak').check();
    await pane(page).getByRole('button', { name: 'Decline…' }).click();
    await page.getByLabel('Why they are not wanted').fill('no lessons here');
    await page.keyboard.press('Enter');
    await expect(tally(page)).toContainText('6 keywords');
    await page.goto('/keywords?progress=declined');
    await row(page, 'how to roll a kayak').click();
    await expect(pane(page)).toContainText('Declined: no lessons here.');
    await page.getByRole('button', { name: 'take back', exact: true }).click();
    await page.goto('/clusters');
    await page.getByRole('button', { name: '1 new keyword' }).click();
    await expect(pane(page).getByRole('row').filter({ hasText: 'how to roll a kayak' })).toContainText(
      'kayak roll lesson',
    );
    for (let i = 0; i < 2; i++) await undoOnce(page);
    await expect(tally(page)).toContainText('7 keywords');
  });

  test('topics: an outline with its pillar, moved by drag, and a subtopic that waits', async ({ page }) => {
    await page.goto('/clusters');
    await page.getByRole('button', { name: 'by topic' }).click();
    await row(page, 'how to roll a kayak').click();
    await pane(page)
      .getByRole('listitem')
      .filter({ hasText: 'how to roll a kayak' })
      .dragTo(row(page, 'kayak dry suit'));
    await expect(tally(page)).toContainText('2 topics');
    await row(page, 'kayak dry suit').click();
    const outline = pane(page).getByRole('list', { name: 'Outline of the topic' });
    await expect(outline.getByRole('listitem')).toHaveCount(2);
    await outline.getByRole('button', { name: 'change' }).last().click();
    await outline.getByRole('button', { name: 'Make pillar' }).last().click();
    await expect(outline.getByRole('listitem').first()).toContainText('how to roll a kayak');
    await pane(page).getByLabel('Subtopic to add').fill('can a dry suit leak');
    await pane(page).getByRole('button', { name: 'Add subtopic' }).click();
    await expect(outline).toContainText('waits for keywords');
    await pane(page).getByRole('link', { name: 'Show them one by one' }).click();
    await expect(tally(page)).toContainText('2 clusters');
    await page.goto('/');
    await expect(page.getByTitle(/^Topic /)).toHaveText('how to roll a kayak');
    for (let i = 0; i < 3; i++) await undoOnce(page);
  });

  test('clusters are mapped by keyboard alone, and undone', async ({ page }) => {
    await page.goto('/page-map');
    await page.getByRole('grid', { name: 'page map' }).focus();
    await page.keyboard.press('Home');
    await expect(pane(page)).toContainText('Which page for “kayak dry suit”?');
    await page.keyboard.press('a');
    await expect(row(page, 'kayak dry suit').getByRole('img', { name: 'contested' })).toBeVisible();
    // It goes on to the next by itself.
    await expect(pane(page)).toContainText('Which page for “kayak paddle”?');
    await page.keyboard.press('1');
    await expect(row(page, 'kayak paddle').getByRole('img', { name: 'covered', exact: true })).toBeVisible();
    await expect(pane(page)).toContainText('No page of the site fits.');
    await page.keyboard.press('d');
    await page.getByLabel('Why no page?').fill('no lessons here');
    await page.keyboard.press('Enter');
    await expect(row(page, 'how to roll a kayak')).toContainText('declined');
    await expect(page.getByRole('group', { name: 'Progress' })).toContainText('declined 24 %');
    await expect(pane(page)).toContainText('no page is wanted, because: no lessons here');
    await page.getByRole('grid', { name: 'page map' }).focus();
    await page.keyboard.press('Control+z');
    await expect(row(page, 'how to roll a kayak')).toContainText('not decided');
    await page.keyboard.press('n');
    await expect(page.getByLabel('Address of the new page')).toHaveValue('/how-to-roll-a-kayak');
    await page.getByLabel('Address of the new page').fill('/skills/rolling');
    await page.keyboard.press('Enter');
    await expect(row(page, 'how to roll a kayak').getByRole('img', { name: 'planned' })).toBeVisible();
    await expect(page.getByRole('link', { name: /Page map/ })).toContainText('3 of 3 mapped');
    await page.getByRole('grid', { name: 'page map' }).focus();
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('link', { name: /Page map/ })).toContainText('2 of 3 mapped');
    await page.keyboard.press('Control+Shift+Z');
    await expect(page.getByRole('link', { name: /Page map/ })).toContainText('3 of 3 mapped');
  });
});

test.describe('from the project “mapped”', () => {
  test.use({ state: 'mapped' });

  test('clear pages are looked at before they are accepted', async ({ page }) => {
    await page.goto('/page-map');
    await row(page, 'kayak paddle').click();
    await pane(page).getByRole('button', { name: 'Unassign' }).click();
    await page.getByRole('button', { name: 'Look at 1 clear' }).click();
    await expect(pane(page)).toContainText('/paddles');
    await pane(page).getByRole('checkbox').uncheck();
    await expect(pane(page).getByRole('button', { name: 'Accept 0' })).toBeDisabled();
    await pane(page).getByRole('checkbox').check();
    await pane(page).getByRole('button', { name: 'Accept 1' }).click();
    await expect(row(page, 'kayak paddle').getByRole('img', { name: 'covered', exact: true })).toBeVisible();
  });

  test('search performance comes in and shows split traffic', async ({ page }) => {
    await page.goto('/site');
    await page.getByRole('button', { name: 'Performance', exact: true }).click();
    await expect(pane(page)).toContainText('None was brought yet.');
    await pane(page).getByRole('button', { name: 'Import a file' }).click();
    await bring(page, 'performance.csv', performance);
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(pane(page)).toContainText('40 rows of search performance; 1 row rejected.');
    await page.getByRole('button', { name: 'Done' }).click();
    await expect(pane(page)).toContainText('20 days, from 1 October 2026');
    await row(page, '/guide').click();
    await expect(pane(page).getByRole('row').filter({ hasText: '2 pages' })).toContainText('60');

    await page.goto('/findings');
    await finding(page, '/dry-suits and /guide').click();
    await pane(page).locator('summary', { hasText: 'Rivals in results' }).click();
    await pane(page).locator('summary', { hasText: 'Split traffic' }).click();
    await expect(pane(page).getByRole('row').filter({ hasText: 'kayak dry suit' }).first()).toBeVisible();
    await expect(pane(page)).toContainText('40 %');
    await page.goto('/page-map');
    await row(page, 'kayak dry suit').click();
    await expect(pane(page)).toContainText('80 clicks of 600 impressions in 20 days');
  });
});

test.describe('from the project “found”', () => {
  test.use({ state: 'found' });

  test('findings are shown by kind, with their evidence, and dismissed with a reason', async ({ page }) => {
    await page.goto('/findings');
    await expect(page.getByRole('heading', { name: 'Conflicts' })).toBeVisible();
    await expect(page.getByRole('heading', { name: 'Uncovered' })).toHaveCount(0);
    await page.getByRole('region', { name: 'Findings by kind' }).focus();
    await page.keyboard.press('ArrowDown');
    await expect(pane(page)).toContainText('Two pages chase “kayak dry suit”');
    await expect(pane(page).getByRole('row').filter({ hasText: 'Rivals in results' })).toContainText('2');
    await expect(pane(page)).toContainText('take');
    await page.keyboard.press('d');
    await page.getByLabel('Why is it left as it is?').fill('both are wanted');
    await page.keyboard.press('Enter');
    await expect(pane(page)).toContainText('dismissed, because: both are wanted');
    await expect(finding(page, '/dry-suits and /guide')).toHaveCount(0);
    await undo(page).click();
    await expect(finding(page, '/dry-suits and /guide')).toBeVisible();
  });

  test('several findings are assigned and decided at once, and gathered by page', async ({ page }) => {
    await page.goto('/findings');
    await page.getByRole('button', { name: 'Gathered: by kind' }).click();
    await page.getByRole('menuitem', { name: 'one by one' }).click();
    await row(page, '/dry-suits and /guide').getByRole('checkbox').check();
    await expect(page.getByText('1 finding picked')).toBeVisible();
    await page.getByRole('button', { name: 'Assign', exact: true }).click();
    await page.getByLabel('Who works on them').fill('Ida');
    await page.keyboard.press('Enter');
    await expect(row(page, '/dry-suits and /guide')).toContainText('Ida');
    await page.getByRole('button', { name: 'Assignee: of anybody' }).click();
    await page.getByRole('menuitem', { name: 'of Ida' }).click();
    await expect(tally(page)).toContainText('1 finding');
    await page.getByRole('button', { name: 'Gathered: one by one' }).click();
    await page.getByRole('menuitem', { name: 'by page' }).click();
    await page.getByRole('button', { name: '/guide' }).click();
    await expect(tally(page)).toContainText('1 finding');
  });

  test('a conflict is decided with its pages side by side, and becomes a step of the plan', async ({ page }) => {
    await page.goto('/findings');
    await finding(page, '/dry-suits and /guide').click();
    await expect(pane(page).getByRole('button', { name: 'Decide side by side' })).toBeVisible();
    await page.getByRole('region', { name: 'Findings by kind' }).focus();
    await page.keyboard.press('c');
    await expect(page.getByRole('heading', { name: 'Conflict: /dry-suits and /guide' })).toBeVisible();
    await expect(page.getByRole('heading', { name: '2 queries they share' })).toBeVisible();
    await expect(page.getByRole('img', { name: /Average position, 1 at the top/ })).toBeVisible();
    await expect(pane(page)).toContainText('The impressions of the same queries go to');
    await expect(pane(page).getByRole('button', { name: 'Decide' })).toBeDisabled();
    expect(await serious(page)).toEqual([]);
    await pane(page).getByText('Keep one, redirect the others').click();
    await pane(page).getByLabel('Note, for whoever does it').fill('in spring');
    await pane(page).getByRole('button', { name: 'Decide' }).click();
    await expect(finding(page, '/dry-suits and /guide')).toContainText('keep one');
    await expect(pane(page)).toContainText('It resolves itself with the next scan or data.');
    await page.goto('/plan');
    await expect(row(page, '/guide')).toContainText('Redirect');
    await row(page, '/guide').click();
    await expect(pane(page)).toContainText('Redirect it to /dry-suits');
    await undo(page).click();
    await expect(row(page, '/guide')).toHaveCount(0);
  });

  test('the click curve is shown and edited', async ({ page }) => {
    await page.goto('/findings');
    await expect(page.getByRole('img', { name: /position 1: 28 percent/ })).toBeVisible();
    await page.getByRole('button', { name: 'change the curve' }).click();
    await page.getByLabel('Share of clicks, position 1', { exact: true }).fill('5');
    await page.getByRole('button', { name: 'Use this curve' }).click();
    await expect(pane(page)).toContainText('cannot get a greater share of clicks than the one above it');
    await page.getByLabel('Share of clicks, position 1', { exact: true }).fill('40');
    await page.getByRole('button', { name: 'Use this curve' }).click();
    await expect(page.getByRole('img', { name: /position 1: 40 percent/ })).toBeVisible();
    await undo(page).click();
    await expect(page.getByRole('img', { name: /position 1: 28 percent/ })).toBeVisible();
  });
});

test.describe('from the project “mapped, read only”', () => {
  test.use({ state: 'mapped', reads: true });

  test('the plan is taken away as a file', async ({ page }) => {
    await page.goto('/plan');
    await expect(row(page, '/skills/rolling')).toContainText('Write');
    await page.getByRole('button', { name: 'Export' }).click();
    const csv = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Steps (CSV)' }).click();
    const text = readFileSync(await (await csv).path(), 'utf8');
    expect(text).toContain('write,https://fenwater.example/skills/rolling,How to roll a kayak');
    await page.getByRole('button', { name: 'Export' }).click();
    const xlsx = page.waitForEvent('download');
    await page.getByRole('link', { name: /^Workbook/ }).click();
    const bytes = readFileSync(await (await xlsx).path());
    expect(bytes.subarray(0, 2).toString()).toBe('PK');
  });
});

test.describe('from the project “files, read only”', () => {
  test.use({ state: 'files', reads: true });

  test('lists sort, filter and search on the server', async ({ page }) => {
    await page.goto('/keywords');
    await page.getByRole('columnheader', { name: 'Difficulty' }).getByRole('button').click();
    await expect(page.getByRole('row').nth(1)).toContainText('30');
    await page.getByRole('button', { name: 'add a condition' }).click();
    await page.getByRole('menuitem', { name: 'intent', exact: true }).click();
    await page.getByRole('button', { name: 'informational intent' }).click();
    await expect(tally(page)).toContainText('2 keywords');
    await page.keyboard.press('Escape');
    await page.keyboard.press('/');
    await page.keyboard.type('lesson');
    await expect(tally(page)).toContainText('1 keyword');
    await page.getByLabel('Search this list').fill('nothing like it');
    await expect(page.getByRole('heading', { name: 'No keyword fits' })).toBeVisible();
  });
});

test.describe('from the project “found, read only”', () => {
  test.use({ state: 'found', reads: true });

  test('? lists the keys of the screen', async ({ page }) => {
    await page.goto('/findings');
    await expect(page.getByRole('region', { name: 'Findings by kind' })).toBeVisible();
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog')).toContainText('dismiss, with a reason');
    await expect(page.getByRole('dialog')).toContainText('search this list');
  });
});

test.describe('looked at by axe', () => {
  test.use({ state: 'found', reads: true });

  for (const path of [
    '/',
    '/site',
    '/keywords',
    '/results',
    '/clusters?id=1',
    '/clusters?view=topics&topic=1',
    '/page-map?id=1',
    '/findings',
    '/plan',
    '/refresh',
    '/refresh?view=changes',
    '/refresh?view=ranks&by=cluster',
  ]) {
    test(`axe finds nothing serious on ${path}`, async ({ page }) => {
      await page.goto(path);
      await expect(tally(page)).toContainText(/\d/);
      expect(await serious(page)).toEqual([]);
    });
  }
});
