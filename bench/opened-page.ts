import { type Browser, chromium, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { type Charter, type Field, showRate, type WorldDocument } from '@relvik/core';
import { world } from './setting';

/** Starts the built application with the demo's world on a port; it goes with this process. */
export async function startDemo(port: number): Promise<{ stop(): void }> {
  const server = spawn(process.execPath, ['scripts/e2e-server.mjs'], {
    cwd: join(__dirname, '..'),
    env: { ...process.env, RELVIK_PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.on('exit', () => server.kill('SIGTERM'));
  await new Promise<void>((ready) => {
    server.stdout.on('data', (text: Buffer) => {
      if (text.toString().includes('ready at')) ready();
    });
  });
  return { stop: () => void server.kill('SIGTERM') };
}

/** A page of Chromium at 1280×800 in which the admin is signed in. */
export async function signedIn(port: number): Promise<{ browser: Browser; page: Page }> {
  const args = ['--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update'];
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [...args, '--disable-sync', '--disable-dev-shm-usage', ...(process.getuid?.() === 0 ? ['--no-sandbox'] : [])],
  });
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  // The compiler names functions with a helper that the page does not have.
  await page.addInitScript('globalThis.__name = (named) => named');
  await page.goto(`http://127.0.0.1:${port}/sign-in`);
  await page.getByLabel('E-mail').fill('admin@ostervane.example');
  await page.getByLabel('Password').fill('brackish harbour 7');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  return { browser, page };
}

/** The clock that {@link installClock} puts into a page. */
export interface Clock {
  /** Acts, and gives the ms until what `shown` reads is another; 3,000 where it stays. */
  untilOther(shown: () => string, act: () => void): Promise<number>;
  /** The numbers of the impact panel. */
  impact(): string;
  /** Durations of tasks of 50 ms and more since the page was opened, ms. */
  readonly blocks: readonly number[];
}

/** Puts a clock into each page that is opened, as `globalThis.clock`. */
export async function installClock(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const blocks: number[] = [];
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) blocks.push(entry.duration);
    }).observe({ type: 'longtask' });
    const clock: Clock = {
      blocks,
      impact() {
        const panel = document.querySelector('rv-impact-panel');
        const textOf = (part: string): string => panel?.querySelector(part)?.textContent ?? '';
        return `${textOf('.headline')}${textOf('.effects')}`;
      },
      async untilOther(shown, act) {
        const before = shown();
        const began = performance.now();
        act();
        await new Promise<void>((changed) => {
          const watch = new MutationObserver(() => {
            if (shown() === before) return;
            watch.disconnect();
            requestAnimationFrame(() => changed());
          });
          watch.observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true });
          setTimeout(() => changed(), 3000);
        });
        return performance.now() - began;
      },
    };
    Object.assign(globalThis, { clock });
  });
}

/** The data that a page works on instead of the demo's. */
export interface Faked {
  /** A population, as Arrow. */
  readonly bytes: Buffer;
  /** In force and in the open draft. */
  readonly charter: Charter;
  readonly fields: readonly Field[];
}

/** Answers what the page asks about charters, the population and the world from given data; saved drafts come back as they were sent. */
export async function answerFrom(page: Page, { bytes, charter, fields }: Faked): Promise<void> {
  const around = world();
  const worldDocument: WorldDocument = {
    format: 'relvik-world',
    version: 1,
    fields,
    reps: [...around.reps.values()],
    teams: [...around.teams.values()],
    queues: [...around.queues.values()],
    rates: [{ currency: 'NOK', from: '2025-01-01', rate: showRate(85_470) }],
    loads: [],
    turns: [],
  };
  const about = { id: 2, base: 1, stale: false, author: 'bench', note: null, changedAt: 0, findings: [] };
  const stateWith = (version: number, drawn: object): object => ({
    inForce: { id: 1, number: 1, enactedAt: 0, charter },
    draft: { ...about, version, charter: drawn },
    drafts: [],
    past: [],
  });
  await page.route('**/api/population', (route) =>
    route.fulfill({ body: bytes, contentType: 'application/vnd.apache.arrow.stream' }),
  );
  await page.route('**/api/population/version', (route) => route.fulfill({ json: { version: '1', place: 'browser' } }));
  await page.route('**/api/world', (route) => route.fulfill({ json: worldDocument }));
  await page.route('**/api/charters', (route) => route.fulfill({ json: stateWith(1, charter) }));
  await page.route('**/api/drafts/2', (route) => {
    const sent = route.request().postDataJSON() as { version: number; charter: object };
    return route.fulfill({ json: stateWith(sent.version + 1, sent.charter) });
  });
}
