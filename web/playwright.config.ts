import { defineConfig } from '@playwright/test';
import { chromiumPath } from './chromium.mjs';

const outside = (at: number) => ({
  command: `dotnet JadeOrchard.StandIns.dll serve --scenario ../../demo/scenario.json --port ${at}`,
  cwd: '../.build/JadeOrchard.StandIns',
  url: `http://localhost:${at}/control`,
  timeout: 60_000,
  reuseExistingServer: false,
});

/** Drives the real interface: the published server, for each test with a project that was prepared. */
export default defineConfig({
  testDir: '../tests/browser',
  outputDir: '../test-results',
  workers: 2,
  // No test goes on from another.
  fullyParallel: true,
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: '../test-results/browser.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    screenshot: 'only-on-failure',
    // Nobody waits for what slides in.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: chromiumPath,
      args: [
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
  // The services that all tests share; Jade Orchard itself is started by each test with what it needs.
  webServer: [outside(5188)],
  globalSetup: '../tests/browser/prepare.ts',
});
