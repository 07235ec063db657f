import { type Locator, type Page } from '@playwright/test';
import { expect, pane, test } from './test';

/** From keywords to a brief by the keyboard alone: no click, and focus is never lost on the way. */

/** Presses Tab until something has the focus. */
async function tabTo(page: Page, target: Locator, key = 'Tab') {
  for (let i = 0; i < 80; i++) {
    if (await target.evaluate((element) => element === document.activeElement).catch(() => false)) return;
    await page.keyboard.press(key);
  }
  throw new Error('Tab does not lead there.');
}

/** Goes somewhere, or does something, by the palette. */
async function go(page: Page, letters: string, name: string) {
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox', { name: 'Go to or do' })).toBeFocused();
  await page.keyboard.type(letters);
  await expect(page.getByRole('option', { selected: true })).toContainText(name);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('combobox', { name: 'Go to or do' })).toBeHidden();
}

test('keywords become a brief by the keyboard alone', async ({ page, server }) => {
  test.setTimeout(240_000);
  const press = (...keys: string[]) =>
    keys.reduce((done, key) => done.then(() => page.keyboard.press(key)), Promise.resolve());
  await page.goto('/');
  // Keys are heard once the frame is there.
  await expect(page.getByRole('navigation', { name: 'Stages' })).toBeVisible();

  // The site and its market.
  await go(page, 'site and', 'Site and market');
  await expect(pane(page)).toBeFocused();
  await tabTo(page, pane(page).getByLabel(/^Domain/));
  await page.keyboard.type('fenwater.example');
  await press('Enter');
  await expect(page.getByText('Saved.')).toBeVisible();

  // Keywords, pasted.
  await go(page, 'bring', 'Bring keywords');
  await tabTo(page, pane(page).getByRole('radio', { name: 'Paste' }));
  await press('Space');
  await tabTo(page, pane(page).getByRole('textbox').first());
  for (const phrase of [
    'kayak dry suit',
    'dry suit for kayaking',
    'kayak drysuit',
    'best kayak dry suit',
    'how to roll a kayak',
    'kayak roll',
  ]) {
    await page.keyboard.type(phrase);
    await press('Enter');
  }
  await tabTo(
    page,
    pane(page)
      .getByRole('button', { name: /^(Bring|Add|Paste)/ })
      .last(),
  );
  await press('Enter');
  await server.idle();
  await expect(page.getByRole('link', { name: /Keywords 6 keywords/ })).toBeVisible();

  // Their results.
  await go(page, 'capture', 'Capture results');
  await tabTo(page, pane(page).getByRole('button', { name: /^Capture/ }));
  await press('Enter');
  await server.idle();
  await expect(page.getByRole('link', { name: /Results 6 captured/ })).toBeVisible();

  // Clusters.
  await go(page, 'group', 'Group keywords');
  await tabTo(
    page,
    pane(page)
      .getByRole('button', { name: /^(Group|Apply|Regroup)/ })
      .last(),
  );
  await press('Enter');
  await server.idle();

  // A planned page for the first cluster.
  await go(page, 'page map', 'Page map');
  const map = page.getByRole('grid', { name: 'page map' });
  await tabTo(page, map);
  await press('ArrowDown');
  await expect(map.getByRole('row', { selected: true })).toBeVisible();
  await press('n');
  await tabTo(page, pane(page).getByRole('button', { name: /^Plan/ }).last());
  await press('Enter');
  await expect(page.getByText(/1 of \d+ mapped/)).toBeVisible();

  // Its brief.
  await go(page, 'briefs', 'Briefs');
  await tabTo(page, pane(page).getByRole('combobox', { name: 'Clusters' }));
  await page.keyboard.type('dry');
  await expect(page.locator('.ant-select-item-option').first()).toBeVisible();
  await press('Enter', 'Escape');
  await tabTo(page, pane(page).getByRole('button', { name: 'Make the brief' }));
  await press('Enter');
  await expect(page).toHaveURL(/briefs\?.*id=\d+/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/dry/);
});
