import { defineConfig } from '@playwright/test';
import { join } from 'node:path';

const PORT = 4410;
const asRoot = process.getuid?.() === 0 ? ['--no-sandbox'] : [];

export default defineConfig({
  testDir: __dirname,
  testMatch: '*.e2e.ts',
  globalSetup: join(__dirname, 'around-the-clock.ts'),
  outputDir: join(__dirname, '../test-results'),
  // One world for all: the tests work on different leads, in one order.
  workers: 1,
  // Patience for a busy machine: no speed is measured here.
  timeout: 90_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], [join(__dirname, '../scripts/count-reporter.cjs'), { name: 'playwright' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    actionTimeout: 20_000,
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
    url: `http://127.0.0.1:${PORT}/api/demo`,
    timeout: 240_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 30_000 },
    env: { RELVIK_PORT: String(PORT) },
  },
});
