import { defineConfig } from '@playwright/test';

const port = 5187;
const standIns = 5188;

const server = (at: number, data: string, services = standIns, more = '') => ({
  command: `dotnet JadeOrchard.Server.dll --port ${at} --data "${process.env.JADE_BROWSER_DATA}/${data}" --services http://localhost:${services} ${more}`,
  cwd: '../.build/JadeOrchard.Server',
  url: `http://localhost:${at}/api/project`,
  timeout: 60_000,
  reuseExistingServer: false,
});

const outside = (at: number) => ({
  command: `dotnet JadeOrchard.StandIns.dll serve --scenario ../../demo/scenario.json --port ${at}`,
  cwd: '../.build/JadeOrchard.StandIns',
  url: `http://localhost:${at}/control`,
  timeout: 60_000,
  reuseExistingServer: false,
});

/** Drives the real interface: the published server with a data folder that is empty at each run. */
export default defineConfig({
  testDir: '../tests/browser',
  outputDir: '../test-results',
  // Each file has servers of its own; a failed test ends its file where the next one goes on from it.
  workers: 2,
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['list'], ['json', { outputFile: '../test-results/browser.json' }]],
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
  webServer: [
    outside(standIns),
    // What the staged capture pays for is counted, so it has a search service of its own.
    outside(port + 11),
    // One for the way from files, one for the way from nothing, each with a data folder of its own.
    server(port, 'files'),
    server(port + 2, 'nothing'),
    // The demo has an outside world of its own, which is told to change.
    outside(port + 5),
    // From keywords to a brief by the keyboard alone.
    server(port + 10, 'keyboard'),
    server(port + 4, 'demo', port + 5, `--load "${process.env.JADE_BROWSER_DATA}/demo-files"`),
  ],
});
