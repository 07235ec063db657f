import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, pane, test } from './test';

/**
 * Follows “Your first hour” as it is written: clicks what is bold, types or presses what is set as code, and looks for what is quoted.
 * Numbers may differ.
 */
test.use({ state: 'demo' });

const guide = readFileSync(join(process.cwd(), '../docs/guide/first-hour.md'), 'utf8');
const steps = guide.split(/^## /m).slice(1);

/** A name in the guide as a pattern, with any number where it has one. */
const pattern = (text: string, isWhole: boolean) => {
  const escaped = text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\d[\d,]*(\\\.\d+)?/g, '[\\d,.]+');
  return new RegExp(`^\\s*${escaped}${isWhole ? '\\s*$' : ''}`);
};

/** What the guide calls by a name: a stage of the track, else something in the pane, else something on the screen, whole names first. */
async function named(page: Page, name: string): Promise<Locator> {
  const stage = page.getByRole('navigation').getByRole('link', { name: pattern(name, false) });
  if (/^[A-Z]\w+( map)?$/.test(name) && (await stage.count()) === 1) return stage;
  const places = [page.getByRole('tooltip'), pane(page), page.locator('body')];
  for (const isWhole of [true, false])
    for (const place of places)
      for (const role of ['button', 'radio', 'link'] as const) {
        const found = place.getByRole(role, { name: pattern(name, isWhole) }).filter({ visible: true });
        if ((await found.count()) > 0) return found.first();
      }
  return page.getByRole('row').filter({ hasText: name }).first();
}

async function follow(page: Page, text: string) {
  for (const [, click, code, quoted] of text.matchAll(/\*\*(.+?)\*\*|`(.+?)`|“(.+?)”/g)) {
    if (click !== undefined) {
      await expect(async () => (await named(page, click)).click({ timeout: 2_000 }), `**${click}**`).toPass({
        timeout: 20_000,
      });
    } else if (quoted !== undefined) {
      await expect(
        page
          .getByText(new RegExp(pattern(quoted, false).source.slice(4)))
          .filter({ visible: true })
          .first(),
        `“${quoted}”`,
      ).toBeVisible({ timeout: 60_000 });
    } else if (code !== undefined && code.length === 1) await page.keyboard.press(code);
    else if (code !== undefined) {
      const isWriting = await page.evaluate(() =>
        document.activeElement?.matches('input:not([type=checkbox]), textarea'),
      );
      if (isWriting) await page.keyboard.type(code);
      else await pane(page).getByRole('textbox').first().fill(code);
    }
    await page.waitForTimeout(700);
  }
}

test('your first hour can be followed click by click', async ({ page, server }) => {
  test.setTimeout(240_000);
  page.setDefaultTimeout(15_000);
  await page.goto('/');
  expect(steps).toHaveLength(7);
  for (const step of steps) {
    await test.step(step.split('\n')[0]!, () => follow(page, step.slice(step.indexOf('\n'))));
    await server.idle();
  }

  // What was followed has left its traces, and nothing else has.
  const history = await server.get<{ label: string }[]>('/api/history');
  expect(history.slice(0, 5).map((step) => step.label)).toEqual([
    'Decide a finding',
    'Plan a page',
    'Accept clear pages',
    expect.stringMatching(/^Capture/),
    'Paste a keyword',
  ]);
  expect((await server.get<{ tally: { rows: number } }>('/api/plan/steps')).tally.rows).toBeGreaterThan(1);
});
