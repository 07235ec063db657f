import AxeBuilder from '@axe-core/playwright';
import { test as base, expect, type Page } from '@playwright/test';
import { folderOf, type Server, sharedServices, startServer, startWorld } from './server';

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

/** Each test has a server of its own with a project that was prepared, so that no test needs another. */
export const test = base.extend<Options & { server: Server }, { readers: Map<State, Server> }>({
  state: ['empty', { option: true }],
  reads: [false, { option: true }],
  hasOwnWorld: [false, { option: true }],
  readers: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads what a fixture needs from its first parameter
    async ({}, use) => {
      const readers = new Map<State, Server>();
      await use(readers);
      for (const server of readers.values()) await server.end();
    },
    { scope: 'worker' },
  ],
  server: async ({ state, reads, readers, hasOwnWorld }, use, info) => {
    // A server takes two seconds to start; it is not part of what the test does.
    info.setTimeout(info.timeout + 30_000);
    if (reads) {
      const server = readers.get(state) ?? (await startServer(folderOf(state)));
      readers.set(state, server);
      await use(server);
      return;
    }
    const world = hasOwnWorld ? await startWorld() : undefined;
    const server = await startServer(folderOf(state), world?.url ?? sharedServices);
    if (world) await server.use(world.url);
    await use(server);
    await server.end('SIGKILL');
    await world?.end('SIGKILL');
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
  const found = await new AxeBuilder({ page }).analyze();
  return found.violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`);
}
