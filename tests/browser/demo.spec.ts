import { expect, pane, row, serious, tally, test, undo } from './test';

/** The demo, from findings to work that is done and seen on the site. */

const kept = '/dry-suits';
const moved = '/guides/dry-suit-guide';
const left = '/magazine/sit-on-tops-of-the-year';

test.describe('from the project “demo”', () => {
  test.use({ state: 'demo' });

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
});

test.describe('from the project “decided”', () => {
  test.use({ state: 'decided' });

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
    expect(await serious(page)).toEqual([]);
  });
});

test.describe('from the project “decided”', () => {
  test.use({ state: 'decided', hasOwnWorld: true });

  test('what is done goes live when the site shows it, and says why where it does not', async ({
    page,
    request,
    server,
  }) => {
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
    const told = await request.post(`${server.services}/control/site`, { data: { path: moved, redirectTo: kept } });
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
});

test.describe('from the project “demo”', () => {
  test.use({ state: 'demo' });

  test('a brief is made, read up, edited without a word typed, and a draft is checked', async ({ page, server }) => {
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
    await undo(page).click();
    await expect(outline.getByRole('listitem').first()).toContainText(first.split('\n')[1]!);
    await page
      .getByRole('button', { name: /^Next of/ })
      .first()
      .click();
    await expect(page.getByRole('group', { name: 'Tally' })).toContainText('1 change by you');
    // What the brief asks for is in each of its forms that can be read as text.
    const { brief } = (await (await page.request.get(`${server.url}/api/briefs/1`)).json()) as {
      brief: {
        keywords: { phrase: string }[];
        terms: { text: string }[];
        questions: string[];
        outline: { sections: { heading: string }[] };
      };
    };
    for (const format of ['docx', 'xlsx', 'html', 'md', 'json']) {
      const answer = await page.request.get(`${server.url}/api/briefs/1/brief.${format}`);
      expect(answer.ok()).toBe(true);
      expect((await answer.body()).length).toBeGreaterThan(1_000);
      if (format === 'html' || format === 'md' || format === 'json')
        for (const asked of [
          ...brief.keywords.map((k) => k.phrase),
          ...brief.terms.map((t) => t.text),
          ...brief.outline.sections.map((s) => s.heading),
        ])
          expect(await answer.text()).toContain(asked);
    }
    // A draft that lacks three things is told exactly those.
    const lacks = ['kayak dry suit clearance', 'zip wax', 'How do you look after latex seals?'];
    const apart = 'This line is here so that what is above stands apart from all that is written further down.';
    const phrases = [...brief.keywords.map((k) => k.phrase), ...brief.terms.map((t) => t.text)];
    expect([...phrases, ...brief.questions]).toEqual(expect.arrayContaining(lacks));
    const draft = [
      '# Kayak dry suit',
      ...phrases
        .filter((p) => !lacks.includes(p))
        .flatMap((p) => [`${p.charAt(0).toUpperCase()}${p.slice(1)}.`, apart]),
      ...brief.questions.filter((q) => !lacks.includes(q)).flatMap((q) => [`## ${q}`, apart]),
    ].join('\n\n');
    await page.getByRole('button', { name: 'Check a text' }).click();
    await page.getByLabel('The draft', { exact: true }).fill(draft);
    await expect(pane(page)).toContainText('3 of what is asked for are missing');
    const missing = pane(page).getByRole('row').filter({ hasText: 'missing' });
    await expect(missing.filter({ hasText: lacks[0]! })).toHaveCount(1);
    await expect(missing.filter({ hasText: lacks[1]! })).toHaveCount(1);
    await expect(missing.filter({ hasText: 'How do you look after latex seals' })).toHaveCount(1);
    // A version is kept, the next one is compared with it.
    await page.getByRole('button', { name: 'Keep this version' }).click();
    await expect(pane(page).getByLabel('Version')).toBeVisible();
    await page.getByLabel('The draft', { exact: true }).fill(`${draft}\n\nZip wax goes on the outside.\n`);
    await expect(pane(page)).toContainText('2 of what is asked for are missing');
    expect(await serious(page)).toEqual([]);
  });
});

test.describe('from the project “briefed”', () => {
  test.use({ state: 'briefed' });

  test('ranking pages stand side by side, and a writer reads the brief by a link', async ({
    page,
    context,
    server,
  }) => {
    await page.goto('/briefs?id=1&view=compare');
    const table = page.getByRole('table').first();
    await expect(table).toContainText('Ours: /dry-suits');
    await expect(table).toContainText('The relief zip');
    expect(await serious(page)).toEqual([]);
    await page.getByRole('button', { name: 'Save the heading for the topic' }).click();
    await page.goto('/briefs?id=1');
    // A keyword taken out comes back by undo.
    await pane(page).getByRole('button', { name: 'Take out “kayak dry suit sale”' }).click();
    await expect(pane(page)).toContainText('Taken out: kayak dry suit sale');
    await undo(page).click();
    await expect(pane(page).getByRole('button', { name: 'Take out “kayak dry suit sale”' })).toBeVisible();
    // The drafting service says its price first; what it writes waits to be accepted.
    await pane(page)
      .getByRole('button', { name: /^Ask for a draft, / })
      .click();
    await page.getByRole('menuitem', { name: 'Introduction' }).click();
    await expect(pane(page).getByRole('heading', { name: 'Introduction drafted' }).first()).toBeVisible();
    await pane(page).getByRole('button', { name: 'Accept', exact: true }).first().click();
    await expect(pane(page).getByRole('heading', { name: 'Introduction accepted' })).toBeVisible();
    expect(await (await page.request.get(`${server.url}/api/briefs/1/brief.md`)).text()).toContain(
      'Texts to begin with',
    );
    // The writer's page stands on its own.
    await pane(page).getByRole('button', { name: 'Make a link for 30 days' }).click();
    const href = await pane(page)
      .getByRole('link', { name: /\/brief\// })
      .getAttribute('href');
    const writer = await context.newPage();
    await writer.goto(href!);
    await expect(writer.getByRole('heading', { name: 'Brief: kayak dry suit' })).toBeVisible();
    await writer.getByLabel('Draft').fill('# Kayak dry suit\n\nA kayak dry suit has a relief zip.');
    await writer.getByRole('button', { name: 'Check' }).click();
    await expect(writer.getByRole('row').filter({ hasText: 'kayak dry suit price' }).last()).toContainText('missing');
    await writer.close();
  });
});

test.describe('from the project “demo”', () => {
  test.use({ state: 'demo' });

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

  test('what the site is found for: a query that a page never mentions becomes a part of its step', async ({
    page,
  }) => {
    await page.goto('/refresh?view=queries&marks=not-mentioned');
    const row = page.getByRole('row').nth(1);
    const query = await row.getByRole('gridcell').nth(1).innerText();
    await row.click();
    await expect(pane(page).getByRole('heading', { name: query, exact: true })).toBeVisible();
    await expect(pane(page).getByText('Mentioned: none.')).toBeVisible();
    await pane(page).getByRole('button', { name: 'Mention' }).click();
    await expect(page.getByText('1 query added to 1 step of the plan.')).toBeVisible();
    expect(await serious(page)).toEqual([]);

    // The page shows its numbers over time, and the step that it has now.
    await pane(page).getByRole('link').first().click();
    await expect(pane(page).getByRole('img', { name: /Clicks a week/ })).toBeVisible();
    await expect(pane(page).getByText(`Mention “${query}”`)).toBeVisible();
    await page.getByRole('link', { name: 'by page' }).click();
    await expect(page.getByRole('grid', { name: 'pages with queries' })).toBeVisible();
  });
});

test.describe('from the project “demo”', () => {
  test.use({ state: 'demo', hasOwnWorld: true });

  test('queries a page never mentions go into its step and brief; the site applies the change, and it helped', async ({
    page,
    request,
    server,
  }) => {
    test.setTimeout(180_000);
    const outside = `${server.services}/control`;
    const pageUrl = '/touring-kayaks';
    const wanted = ['touring kayak online', 'where to buy touring kayak'];

    const started = (path: string) =>
      page.waitForResponse((r) => r.url().endsWith(path) && r.request().method() === 'POST');

    // The page, its queries, those that it never mentions.
    await page.goto(`/refresh?search=${pageUrl}`);
    await row(page, pageUrl).click();
    await pane(page)
      .getByRole('link', { name: /^Its \d+ queries$/ })
      .click();
    await expect(page).toHaveURL(/view=queries/);
    await page.goto(`${page.url()}&marks=not-mentioned`);
    await expect(row(page, wanted[0]!)).toContainText('not mentioned');
    for (const query of wanted) await row(page, query).getByRole('checkbox').check();
    await page.getByRole('button', { name: 'Mention', exact: true }).first().click();
    await expect(page.getByText('2 queries added to 1 step of the plan.')).toBeVisible();

    // The step has them, and the brief that is made from it.
    await page.goto(`/plan?search=${pageUrl}`);
    await row(page, pageUrl).click();
    for (const query of wanted) await expect(pane(page)).toContainText(`Mention “${query}”`);
    await pane(page).getByRole('button', { name: 'Make the brief' }).click();
    await expect(page.getByRole('heading', { name: pageUrl })).toBeVisible();
    for (const query of wanted) await expect(page.getByText(query).first()).toBeVisible();

    // The site applies it; a scan sees what was added, and that the parts are done.
    const change = {
      path: pageUrl,
      heading: 'Where to buy a touring kayak',
      text: 'Where to buy touring kayak and paddle together: order your touring kayak online or try it on our own pond in Fenwater first.',
    };
    expect((await request.post(`${outside}/site`, { data: change })).status()).toBe(204);
    await page.goto('/site?pane=scan');
    const scan = started('/api/scans');
    await pane(page).getByRole('button', { name: 'Scan', exact: true }).click();
    await scan;
    await server.idle();
    await page.goto(`/refresh?view=changes&search=${pageUrl}`);
    await expect(row(page, pageUrl)).toContainText('text');
    await expect(row(page, pageUrl)).toContainText('too early');
    await row(page, pageUrl).click();
    await expect(pane(page)).toContainText('Too early: 0 days');
    await expect(pane(page).locator('ins').filter({ hasText: 'order your touring kayak online' })).toBeVisible();

    // Time passes, and the newest days are read.
    const passed = await request.post(`${outside}/time`, { data: { days: 30 } });
    const today = ((await passed.json()) as { today: string }).today;
    await page.goto('/site?pane=performance');
    await page.getByLabel('Last day').fill(today);
    const read = started('/api/performance');
    await page.getByRole('button', { name: 'Read', exact: true }).click();
    await read;
    await server.idle();
    await page.goto(`/refresh?view=changes&search=${pageUrl}`);
    await expect(row(page, pageUrl)).toContainText('helped');
    await row(page, pageUrl).click();
    await expect(pane(page).getByRole('img', { name: /without the change/ })).toBeVisible();
    const says = await pane(page)
      .getByText(/^It helped:/)
      .innerText();
    const [low, high] = /between (\d+) and (\d+)/.exec(says)!.slice(1).map(Number);
    const gain = (await (await request.get(`${outside}/gain?path=${pageUrl}`)).json()) as { clicks: number };
    expect(gain.clicks).toBeGreaterThan(0);
    expect(gain.clicks).toBeGreaterThanOrEqual(low!);
    expect(gain.clicks).toBeLessThanOrEqual(high!);
    expect(await serious(page)).toEqual([]);

    // A change that no scan saw is entered, and taken back.
    await page.goto('/refresh?view=changes');
    await pane(page).getByLabel('Page', { exact: true }).fill('/no-such-page');
    await pane(page).getByLabel('Day').fill('2026-09-01');
    await pane(page).getByRole('button', { name: 'Enter', exact: true }).click();
    await expect(pane(page)).toContainText('is no page of the site');
    await pane(page).getByLabel('Page', { exact: true }).fill('/guides/storage');
    await pane(page).getByRole('button', { name: 'Enter', exact: true }).click();
    await expect(row(page, '/guides/storage')).toContainText(/1 Sept? 2026/);
    await undo(page).click();
    await expect(row(page, '/guides/storage')).toHaveCount(0);
  });
});
