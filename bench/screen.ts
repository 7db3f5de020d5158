import { chromium } from '@playwright/test';
import { showRate, type WorldDocument } from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { median } from './measure';
import { AS_OF, FIELDS, populationOf, ready, recordsOf, world } from './setting';

/** S8: typing with 100,000 records in the worker; how long until the impact is redrawn, and whether the page ever stood still. */

const COUNT = 100_000;
const EDITS = 60;
/** Edits before the count begins: they are printed apart. */
const WARM = 10;
const PORT = 4420;

async function main(): Promise<void> {
  const root = join(__dirname, '..');
  const server = spawn(process.execPath, ['scripts/e2e-server.mjs'], {
    cwd: root,
    env: { ...process.env, RELVIK_PORT: String(PORT) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  // Whatever happens, the server goes with this process.
  process.on('exit', () => server.kill('SIGTERM'));
  await new Promise<void>((ready_) => {
    server.stdout.on('data', (text: Buffer) => {
      if (text.toString().includes('ready at')) ready_();
    });
  });
  const bytes = Buffer.from(
    populationToArrow(populationOf(recordsOf(COUNT)), {
      asOf: AS_OF,
      version: '1',
      past: [],
    }),
  );
  const around = world();
  const worldDocument: WorldDocument = {
    format: 'relvik-world',
    version: 1,
    fields: [...FIELDS.values()],
    reps: [...around.reps.values()],
    teams: [...around.teams.values()],
    queues: [...around.queues.values()],
    rates: [{ currency: 'NOK', from: '2025-01-01', rate: showRate(85_470) }],
    loads: [],
    turns: [],
  };
  const charter = ready().charter;
  const draft = {
    id: 2,
    version: 1,
    base: 1,
    stale: false,
    author: 'bench',
    note: null,
    changedAt: 0,
    charter,
    findings: [],
  };
  const state = { inForce: { id: 1, number: 1, enactedAt: 0, charter }, draft, drafts: [], past: [] };

  const args = [
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-dev-shm-usage',
    ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
  ];
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args });
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  // The compiler names functions with a helper that the page does not have.
  await page.addInitScript('globalThis.__name = (named) => named');
  await page.goto(`http://127.0.0.1:${PORT}/sign-in`);
  await page.getByLabel('E-mail').fill('admin@ostervane.example');
  await page.getByLabel('Password').fill('brackish harbour 7');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  await page.route('**/api/population', (route) =>
    route.fulfill({ body: bytes, contentType: 'application/vnd.apache.arrow.stream' }),
  );
  await page.route('**/api/population/version', (route) => route.fulfill({ json: { version: '1', place: 'browser' } }));
  await page.route('**/api/world', (route) => route.fulfill({ json: worldDocument }));
  await page.route('**/api/charters', (route) => route.fulfill({ json: state }));
  await page.route('**/api/drafts/2', (route) =>
    route.fulfill({
      json: {
        ...state,
        draft: {
          ...draft,
          version: draft.version + 1,
          charter: (route.request().postDataJSON() as { charter: object }).charter,
        },
      },
    }),
  );
  await page.goto(`http://127.0.0.1:${PORT}/score`);
  await page.locator('.headline').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(3000);

  // In the page: a key is typed, and the clock runs until the panel's numbers are other ones.
  const seen = await page.evaluate(async (edits) => {
    const blocks: number[] = [];
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) blocks.push(entry.duration);
    }).observe({ type: 'longtask' });
    const field = document.querySelector<HTMLInputElement>('input[aria-label="Points for a7"]');
    const panel = document.querySelector('rv-impact-panel');
    if (field === null || panel === null) throw new Error('The page is not the one to measure');
    const numbers = (): string =>
      `${panel.querySelector('.headline')?.textContent ?? ''}${panel.querySelector('.effects')?.textContent?.slice(0, 60) ?? ''}`;
    const took: number[] = [];
    for (let i = 0; i < edits; i += 1) {
      const before = numbers();
      const began = performance.now();
      field.value = String(10 + ((i * 7) % 23));
      field.dispatchEvent(new Event('input', { bubbles: true }));
      await new Promise<void>((changed) => {
        const watch = new MutationObserver(() => {
          if (numbers() === before) return;
          watch.disconnect();
          requestAnimationFrame(() => changed());
        });
        watch.observe(panel, { subtree: true, childList: true, characterData: true });
        setTimeout(() => changed(), 3000);
      });
      took.push(performance.now() - began);
      await new Promise((pause) => setTimeout(pause, 700));
    }
    return { took, blocks };
  }, WARM + EDITS);
  await browser.close();
  server.kill('SIGTERM');

  const first = seen.took.slice(0, WARM);
  const took = seen.took.slice(WARM).sort((a, b) => a - b);
  const at95 = took[Math.ceil(took.length * 0.95) - 1] ?? NaN;
  const longest = Math.max(0, ...seen.blocks);
  const lines = [
    `Key to redrawn impact, ${COUNT.toLocaleString('en')} records, ${EDITS} edits: median ${median(took).toFixed(0)} ms, 95th percentile ${at95.toFixed(0)} ms (goal ≤ 60 ms${at95 <= 60 ? ', reached' : ', **not reached**'}).`,
    `The first ${WARM} edits after the page is opened, not counted above: median ${median(first).toFixed(0)} ms, longest ${Math.max(...first).toFixed(0)} ms.`,
    `Longest block of the main thread: ${longest === 0 ? 'below 50' : longest.toFixed(0)} ms (goal ≤ 50 ms${longest <= 50 ? ', reached' : ', **not reached**'}; tasks of 50 ms and more seen: ${seen.blocks.length}).`,
  ];
  console.log(lines.join('\n'));
  writeFileSync(
    join(root, 'docs/speed-screen.md'),
    `# Speed of the screen (S8)\n\nWritten by \`npm run bench:screen\` on ${new Date().toISOString().slice(0, 10)}, in Chromium at 1280×800, on the machine of speed.md: the Score page of the built application, the charter and
population of the bench in its worker.\n\n- ${lines.join('\n- ')}\n`,
  );
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
