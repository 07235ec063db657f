// Takes the pictures of the main views: node screenshots.mjs ADDRESS FOLDER [NAME...]
// The server has the demo; what the pictures need beyond it is done first, the way a planner would.
import { chromium } from '@playwright/test';
import { join } from 'node:path';
import { chromiumPath } from './chromium.mjs';

const [address, folder, ...only] = process.argv.slice(2);
const size = { width: 1280, height: 800 };

const get = async (path) => (await fetch(address + path)).json();
async function send(method, path, body) {
  const answer = await fetch(address + path, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
  const text = await answer.text();
  return text ? JSON.parse(text) : undefined;
}
const wait = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Waits until the server answers and nothing is under way any more. */
async function idle() {
  for (let quiet = 0, i = 0; quiet < 4; i++) {
    if (i > 600) throw new Error('The server does not come to rest.');
    await wait(500);
    const jobs = await get('/api/jobs/active').catch(() => undefined);
    quiet = jobs?.length === 0 ? quiet + 1 : 0;
  }
}

await idle();
for (let i = 0; (await get('/api/refresh/state').catch(() => undefined))?.days === 0 && i < 60; i++) await wait(1000);
await idle();

const phrase = async (text) => (await get(`/api/keywords?Search=${encodeURIComponent(text)}`)).rows[0];
const keyword = await phrase('kayak dry suit');
const clusters = (await get('/api/clusters')).rows;
const cluster = clusters.find((c) => c.name === 'sea kayak') ?? clusters[0];
const open = (await get('/api/clusters?Decided=false&Verdict=doubtful')).rows[0];

// Conflicts are decided, uncovered clusters get pages, and both become steps of two people.
const conflicts = (await get('/api/findings?Kind=conflict')).rows;
for (const c of conflicts.slice(1, 4))
  await send('POST', `/api/conflicts/${encodeURIComponent(c.key)}/decision`, { decision: 'redirect', keepPageId: null, note: null, version: null });
for (const kind of ['uncovered', 'pageGap']) {
  const keys = (await get(`/api/findings?Kind=${kind}`)).rows.slice(0, 12).map((f) => f.key);
  await send('POST', '/api/findings/decide', { selection: { keys, filter: null, search: null }, state: 'accepted', reason: null, assignee: null, note: null });
}
await send('POST', '/api/plan/steps/from-decisions');
const settings = await get('/api/plan/settings');
await send('PUT', '/api/plan/settings', {
  until: settings.until,
  effort: null,
  people: ['Ada', 'Ben'].map((name) => ({ name, hoursPerWeek: 10, daysOff: [] })),
});
const steps = (await get('/api/plan/steps')).rows.map((s) => s.id);
for (const [i, owner] of ['Ada', 'Ben'].entries())
  await send('POST', '/api/plan/steps/change', {
    ids: steps.filter((_, at) => at % 2 === i),
    status: null,
    reason: null,
    owner,
    due: null,
    week: null,
    hours: null,
    note: null,
    version: null,
  });

// The ranking pages of one cluster are read for its brief; some lists are captured once more.
await send('POST', `/api/clusters/${cluster.id}/read-ranking`).catch(() => undefined);
await idle();
const brief = (await send('POST', '/api/briefs', { clusterIds: [cluster.id] })).ids[0];
const again = (await get('/api/keywords?Limit=60')).rows.map((k) => k.id);
await send('POST', '/api/captures', { selection: { ids: again, filter: null, search: null }, freshDays: 0, again: true, certainty: null });
await idle();
const day = (before) => new Date(Date.now() - before * 86_400_000).toISOString().slice(0, 10);
const seen = (await get('/api/refresh/pages?Days=28')).rows;
for (const [i, before, kind, note] of [
  [0, 60, 'text', 'Questions answered, two sections added'],
  [1, 45, 'title', 'New title with the main query in front'],
  [2, 38, 'links', 'Linked from five guides'],
  [3, 10, 'text', 'Prices brought up to date'],
])
  if (seen[i]) await send('POST', '/api/changes', { page: seen[i].url, day: day(before), kind, note }).catch((e) => console.error(e.message));
const query = (await get('/api/refresh/queries?Days=28&Marks=not-mentioned')).rows[0];
const step = (await get('/api/plan/steps')).rows[0];
const finding = (await get('/api/findings?Kind=uncovered&AnyState=true')).rows[0];
const page = (await get('/api/pages?Sort=clicks&Descending=true')).rows[0];
const topic = (await get('/api/topics')).rows[0];

const views = {
  overview: '/',
  site: `/site?id=${page.id}`,
  keywords: `/keywords?minVolume=100&id=${keyword.id}`,
  capture: ['/keywords?pane=capture', (p) => p.getByRole('radio', { name: /In stages/ }).check()],
  compare: '/keywords?view=compare&rivals=saltwayboats.example',
  results: `/results?id=${keyword.id}`,
  clusters: `/clusters?id=${cluster.id}`,
  grouping: '/clusters?pane=regroup',
  topics: `/clusters?view=topics&topic=${topic.id}`,
  'page-map': `/page-map?decided=no&id=${open?.id ?? cluster.id}`,
  findings: `/findings?id=${encodeURIComponent(finding.key)}`,
  conflict: `/findings/conflict?key=${encodeURIComponent(conflicts[0].key)}`,
  plan: `/plan?id=${step.id}`,
  roadmap: '/plan?view=roadmap',
  brief: `/briefs?id=${brief}`,
  refresh: `/refresh?view=queries&id=${query.pageId}&query=${query.queryId}`,
  changes: '/refresh?view=changes',
  positions: '/refresh?view=ranks',
  // The last: from here on there are several projects.
  projects: ['/projects?id=fenwater', undefined, otherProjects],
};

async function otherProjects() {
  for (const [name, host, country, language] of [
    ['Fenwater Germany', 'fenwater.example/de', 'DE', 'de'],
    ['Fenwater France', 'fenwater.example/fr', 'FR', 'fr'],
    ['Saltway Boats', 'saltwayboats.example', 'IE', 'en'],
  ])
    await send('POST', '/api/projects', { name, host, country, language, settingsOf: 'fenwater', parts: null });
  const phrases = Array.from({ length: 40 }, (_, i) => `kajak ${i + 1}`).join('\n');
  await send('POST', '/p/fenwater-germany/api/keywords/paste', { text: phrases });
  await send('POST', '/api/projects/saltway-boats/archive');
  await send('POST', '/api/projects/fenwater/backups');
}

const browser = await chromium.launch({ executablePath: chromiumPath, args: ['--no-sandbox'] });
const window = await browser.newPage({ viewport: size, colorScheme: 'light' });
for (const [name, view] of Object.entries(views)) {
  if (only.length > 0 && !only.includes(name)) continue;
  const [path, act, before] = Array.isArray(view) ? view : [view];
  await before?.();
  await window.goto(address + path);
  await wait(800);
  await window.getByText('Reading…').first().waitFor({ state: 'hidden' }).catch(() => undefined);
  await act?.(window);
  await wait(1500);
  await window.screenshot({ path: join(folder, `${name}.png`) });
  console.log(`${name}.png`);
}
await browser.close();
