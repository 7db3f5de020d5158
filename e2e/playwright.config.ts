import { defineConfig } from '@playwright/test';
import { join } from 'node:path';

/** Two worlds, each on a port of its own: in each the tests work on different leads, in one order. */
const WORLDS = [
  { name: 'leads', port: 4410, testMatch: /[1235]-.*\.e2e\.ts/ },
  { name: 'drafts', port: 4411, testMatch: /[46789]-.*\.e2e\.ts/ },
];
const [FIRST, SECOND] = WORLDS.map(({ port }) => port);
const asRoot = process.getuid?.() === 0 ? ['--no-sandbox'] : [];

export default defineConfig({
  testDir: __dirname,
  outputDir: join(__dirname, '../test-results'),
  workers: WORLDS.length,
  projects: WORLDS.map(({ name, port, testMatch }) => ({
    name,
    testMatch,
    workers: 1,
    use: { baseURL: `http://127.0.0.1:${port}` },
  })),
  timeout: 45_000,
  expect: { timeout: 8_000 },
  reporter: [['list'], [join(__dirname, '../scripts/count-reporter.cjs'), { name: 'playwright' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    actionTimeout: 10_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-dev-shm-usage',
        ...asRoot,
      ],
    },
  },
  webServer: {
    command: 'node scripts/e2e-server.mjs',
    cwd: join(__dirname, '..'),
    url: `http://127.0.0.1:${SECOND}/api/demo`,
    timeout: 240_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 30_000 },
    env: { RELVIK_PORTS: `${FIRST} ${SECOND}` },
  },
});
