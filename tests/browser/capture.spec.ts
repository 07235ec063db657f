import { type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { demoFiles } from './server';
import { expect, pane, test } from './test';

/** A capture in stages through a stop and a kill of the server, to its audit and to what its expected keywords become. */
test.use({ state: 'empty', hasOwnWorld: true });
const keywords = 500;

const part = (page: Page) => pane(page).getByRole('region', { name: 'Capture in stages' });

test('a capture in stages goes on after a stop and a kill, and nothing is paid for twice', async ({
  page,
  program,
  server,
}) => {
  test.setTimeout(240_000);
  const { get } = server;
  const answered = async () => {
    const services = (await (await fetch(`${server.services}/control`)).json()) as {
      service: string;
      answered: number;
    }[];
    return services.find((c) => c.service === 'search')!.answered;
  };
  const captured = async () => (await get<{ captured: number }>('/api/captures/stages')).captured;

  const project = { name: 'Fenwater', host: 'fenwater.example', country: 'GB', language: 'en', brandTerms: [] };
  await server.send('PUT', '/api/project', project);
  const pace = { ratePerSecond: 40, atOnce: 4, recaptureDays: 0, recaptureListId: null, monthlyBudget: 10 };
  const capture = { depth: 10, pricePerRequest: 0.002, currency: 'EUR', freshDays: 30, ...pace };
  await server.send('PUT', '/api/settings/capture', capture);
  const rows = readFileSync(join(demoFiles, 'keywords.csv'), 'utf8').split('\n', keywords + 1);
  await server.import('keywords', 'keywords.csv', rows.join('\n'));
  const before = await answered();

  // Both ways stand there with their prices before anything is paid for.
  await page.goto('/results');
  await page.getByRole('button', { name: 'Capture results' }).click();
  await expect(pane(page).getByRole('radio', { name: /^All 500 for 1\.00 EUR$/ })).toBeVisible();
  await pane(page)
    .getByRole('radio', { name: /^In stages: about \d+ for 0\.\d+ EUR, clusters expected to be 9\d % the same$/ })
    .click();
  await pane(page).getByRole('button', { name: 'Capture in stages' }).click();
  await expect.poll(captured).toBeGreaterThan(60);
  await pane(page).getByRole('button', { name: 'Stop' }).click();
  await expect(pane(page)).toContainText('nothing is asked for twice');
  const stopped = await captured();
  await pane(page).getByRole('button', { name: 'Resume' }).click();
  await expect.poll(captured).toBeGreaterThan(stopped + 20);

  await program.end('SIGKILL');
  await program.start();
  expect(await captured()).toBeGreaterThan(stopped);
  await page.goto('/results');
  await expect
    .poll(async () => (await get<{ capture: { phase: string } }>('/api/captures/stages')).capture.phase, {
      timeout: 120_000,
    })
    .toBe('done');
  await server.idle();
  await expect(part(page)).toContainText(/Audit: \d+ of \d+ expected keywords were in the cluster that was expected/);
  await expect(part(page)).toContainText('Clusters expected to match those from all results');
  const { expected, unknown } = await get<{ expected: number; unknown: number }>('/api/captures/stages');
  expect(unknown).toBe(0);
  expect(expected).toBeGreaterThan(0.15 * keywords);
  // At most the four that were on their way when it was killed are asked for again, and none is charged twice.
  expect((await answered()) - before).toBe(await captured());

  // The expected ones are members of clusters, marked as such, until their own results say where they stand.
  await page.goto('/clusters');
  await page.getByRole('button', { name: 'Group keywords' }).first().click();
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  await expect(page.getByText(/^[0-9]+ clusters?\.$/)).toBeVisible({ timeout: 60_000 });
  await server.idle();
  const clusters = await get<{ rows: { id: number; expected: number }[] }>('/api/clusters?limit=500');
  expect(clusters.rows.reduce((sum, c) => sum + c.expected, 0)).toBe(expected);
  const most = clusters.rows.reduce((a, b) => (b.expected > a.expected ? b : a));
  await page.goto(`/clusters?id=${most.id}`);
  const those = pane(page).getByRole('table', { name: 'Expected members' });
  await expect(those.getByRole('row')).toHaveCount(most.expected + 1);
  await those.getByRole('link').first().click();
  await expect(pane(page)).toContainText('Expected in the cluster');
  await page.goto('/results');
  await part(page)
    .getByRole('button', { name: /^Capture the rest for 0\.\d+ EUR$/ })
    .click();
  await pane(page)
    .getByRole('button', { name: /^Capture \d+ for 0\.\d+ EUR$/ })
    .click();
  await expect(pane(page)).toContainText(/\d+ result lists captured\./, { timeout: 60_000 });
  await server.idle();
  const [step] = await get<{ label: string }[]>('/api/history');
  expect(step!.label).toMatch(/^Place expected keywords by their results: \d+ in the cluster that was expected/);
  expect((await get<{ expected: number }>('/api/captures/stages')).expected).toBe(0);
});
