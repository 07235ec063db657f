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

test.describe('the demo’s examples of how it computes', () => {
  test.use({ reads: true });
  const rules = readFileSync(join(process.cwd(), '../docs/guide/how-it-computes.md'), 'utf8');
  const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
  const n = (value: number, digits?: number) => (digits === undefined ? whole.format(value) : value.toFixed(digits));

  interface Cluster {
    id: number;
    name: string;
    size: number;
    demand: number;
  }

  test('are what the demo gives, and add up', async ({ server }) => {
    const { rows } = await server.get<{ rows: Cluster[] }>('/api/clusters?limit=400');
    const cluster = (name: string) => rows.find((c) => c.name === name)!;
    const says = (sentence: string) => expect(rules).toContain(sentence);

    const suit = await server.get<{
      members: { keywordId: number; phrase: string }[];
      least: number;
      most: number;
      depth: number;
    }>(`/api/clusters/${cluster('kayak dry suit').id}`);
    const [a, b] = ['kayak dry suit', 'drysuit for kayaking'].map((p) => suit.members.find((m) => m.phrase === p)!);
    const side = await server.get<{ overlap: number; rankBiasedOverlap: number }>(
      `/api/results/side-by-side?a=${a!.keywordId}&b=${b!.keywordId}`,
    );
    says(
      `share ${side.overlap} of their first ${suit.depth} results, with a rank-biased overlap of ${n(side.rankBiasedOverlap, 2)}.`,
    );
    says(
      `has ${suit.members.length} keywords, which share ${suit.least} to ${suit.most} of their first ${suit.depth} results with it.`,
    );

    const topics = await server.get<{ tally: { rows: number } }>('/api/topics?limit=1');
    says(`The ${n(rows.length)} clusters of the demo form ${topics.tally.rows} topics.`);

    const { candidates } = await server.get<{
      candidates: { page: { url: string; results: number; performance: number; text: number; strength: number } }[];
    }>(`/api/page-map/${cluster('best sea kayak').id}`);
    const { results, performance, text, strength } = candidates[0]!.page;
    expect(100 * (0.45 * results + 0.3 * performance + 0.25 * text)).toBeCloseTo(strength, 6);
    says(`100 × (0.45 × ${n(results, 3)} + 0.30 × ${n(performance, 3)} + 0.25 × ${n(text, 3)}) = ${n(strength)}.`);

    const curve = await server.get<{ used: number[]; queries: number }>('/api/curve');
    const [first, second, third] = curve.used.map((share) => 100 * share);
    says(`rests on ${n(curve.queries)} queries and begins with ${n(first!)} %, ${n(second!)} % and ${n(third!)} %.`);

    const conflicts = await server.get<{ rows: { key: string }[] }>('/api/findings?kind=conflict');
    const { pages } = await server.get<{ pages: { impressions: number }[] }>(
      `/api/conflicts/${encodeURIComponent(conflicts.rows[0]!.key)}`,
    );
    const [hire, places] = pages.map((p) => p.impressions) as [number, number];
    const [x, y] = [hire / (hire + places), places / (hire + places)];
    says(
      `/hire ${n(hire)} and /places ${n(places)} times: 1 / (${n(x, 2)}² + ${n(y, 2)}²) = ${n(1 / (x * x + y * y), 2)}, split.`,
    );

    const steps = await server.get<{ rows: { demand: number; gain: number; gainSays: string }[] }>('/api/plan/steps');
    const { demand, gain, gainSays } = steps.rows[0]!;
    const difficulty = Number(/difficulty (\d+)/.exec(gainSays)![1]);
    const [share, rest] = [n(third! / 100, 3), n(1 - difficulty / 100, 2)];
    says(
      `searched for ${n(demand)} times a month at difficulty ${difficulty}: ${n(demand)} × ${share} × ${rest} = ${n(demand * Number(share) * Number(rest))}; keyword by keyword, each with its own difficulty, about ${n(gain)}.`,
    );

    const { track } = await server.get<{ track: { says: string }[] }>('/api/project');
    says(`In the demo ${track.at(-1)!.says.replace(' fading', '')} fade.`);
  });
});
