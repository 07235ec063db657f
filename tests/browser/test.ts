import AxeBuilder from '@axe-core/playwright';
import { test as base, expect, type Page } from '@playwright/test';
import { dataFolder, type Project, type Server, startServer, startWorld } from './server';

export { expect };

/** The projects that are prepared, see prepare.ts. */
export type State =
  | 'empty'
  | ('named' | 'keywords' | 'files' | 'grouped' | 'mapped' | 'found')
  | ('domain' | 'site' | 'ideas' | 'suits' | 'captured' | 'clustered')
  | ('demo' | 'decided' | 'briefed');

interface Options {
  /** The project that the test begins with. */
  state: State;
  /** The test only reads, so that it shares a server with others that do. */
  reads: boolean;
  /** The test has services and sites for itself, since it changes them or counts what they answer. */
  hasOwnWorld: boolean;
}

/**
 * Each test has a project of its own that was prepared, so that no test needs another. Tests share a program with others of their
 * worker, but for those that have a world of their own.
 */
export const test = base.extend<
  Options & { program: Server; server: Project },
  { shared: Server; readers: Map<State, Project> }
>({
  state: ['empty', { option: true }],
  reads: [false, { option: true }],
  hasOwnWorld: [false, { option: true }],
  shared: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads what a fixture needs from its first parameter
    async ({}, use) => {
      const server = await startServer(dataFolder('empty'));
      await use(server);
      await server.end('SIGKILL');
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  // eslint-disable-next-line no-empty-pattern -- see above
  readers: [async ({}, use) => use(new Map()), { scope: 'worker' }],
  program: async ({ state, shared, hasOwnWorld }, use, info) => {
    if (!hasOwnWorld) return use(shared);
    // Two programs start; that is not part of what the test does.
    info.setTimeout(info.timeout + 30_000);
    const world = await startWorld();
    const server = await startServer(dataFolder(state), world.url);
    await server.project.use(world.url);
    await use(server);
    await server.end('SIGKILL');
    await world.end('SIGKILL');
  },
  server: async ({ state, reads, program, readers, hasOwnWorld }, use) => {
    if (hasOwnWorld) return use(program.project);
    if (reads) {
      const project = readers.get(state) ?? program.add(state);
      readers.set(state, project);
      return use(project);
    }
    const project = program.add(state);
    await use(project);
    await program.remove(project);
  },
  // A path that a test goes to is one of its project.
  page: async ({ page, server }, use) => {
    const go = page.goto.bind(page);
    page.goto = (url, options) => go(url.startsWith('/') ? server.url + url : url, options);
    await use(page);
  },
  baseURL: async ({ server }, use) => use(server.url),
});

export const row = (page: Page, text: string) => page.getByRole('row').filter({ hasText: text }).first();
export const pane = (page: Page) => page.getByRole('complementary', { name: 'Evidence' });
export const tally = (page: Page) => page.getByRole('group', { name: 'Tally' }).getByRole('status').first();

export const undo = (page: Page) => page.getByRole('banner').getByRole('button', { name: 'Undo' });

/** Goes one step back, and waits until that is done. */
export async function undoOnce(page: Page) {
  const before = await undo(page).getAttribute('title');
  await undo(page).click();
  await expect(undo(page)).not.toHaveAttribute('title', before!);
}

/** What axe finds that is serious, on the page as it is. */
export async function serious(page: Page) {
  // No page has frames, and only what is wrong is asked for: a third of the time.
  const found = await new AxeBuilder({ page })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode(true)
    .analyze();
  return found.violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}
