import { chromium, type Page } from '@playwright/test';
import type { CharterState } from '@relvik/contracts';
import type { Territory, TerritoryKey } from '@relvik/core';
import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Dice } from './dice';
import { median } from './measure';

/** The map of territories: how long a click takes to be drawn, and an edit among 2,000 territories until its impact stands. */

const PORT = 4420;
const MANY = 2000;
const CLICKS = 60;
const EDITS = 30;

async function main(): Promise<void> {
  const root = join(__dirname, '..');
  const server = spawn(process.execPath, ['scripts/e2e-server.mjs'], {
    cwd: root,
    env: { ...process.env, RELVIK_PORT: String(PORT) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.on('exit', () => server.kill('SIGTERM'));
  await new Promise<void>((ready) => {
    server.stdout.on('data', (text: Buffer) => {
      if (text.toString().includes('ready at')) ready();
    });
  });
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
  await page.addInitScript('globalThis.__name = (named) => named');
  await page.goto(`http://127.0.0.1:${PORT}/sign-in`);
  await page.getByLabel('E-mail').fill('admin@ostervane.example');
  await page.getByLabel('Password').fill('brackish harbour 7');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();

  const clicks = await clicksOn(page);
  await page.route('**/api/charters', async (route) => {
    const state = (await (await route.fetch()).json()) as CharterState;
    await route.fulfill({ json: withMany(state) });
  });
  await page.route('**/api/drafts/*', (route) => route.fulfill({ json: {}, status: 503 }));
  const edits = await editsOn(page);
  await browser.close();
  server.kill('SIGTERM');

  const words = (took: readonly number[], goal: number): string => {
    const sorted = [...took].sort((a, b) => a - b);
    const at95 = sorted[Math.ceil(sorted.length * 0.95) - 1] ?? NaN;
    return `median ${median(sorted).toFixed(0)} ms, 95th percentile ${at95.toFixed(0)} ms (goal ≤ ${goal} ms${at95 <= goal ? ', reached' : ', **not reached**'})`;
  };
  const lines = [
    `A click on the map until it is drawn, with all countries and the subdivisions of four shown, ${CLICKS} clicks: ${words(clicks, 50)}.`,
    `An edit among ${MANY.toLocaleString('en')} territories until the impact on the demo's leads stands, ${EDITS} edits: ${words(edits, 60)}.`,
  ];
  console.log(lines.join('\n'));
  writeFileSync(
    join(root, 'docs/speed-map.md'),
    `# Speed of the map\n\nWritten by \`npm run bench:map\` on ${new Date().toISOString().slice(0, 10)}, in Chromium at 1280×800, on the machine of speed.md: the Territories page of the built application with the demo's leads.\n\n- ${lines.join('\n- ')}\n`,
  );
}

/** In the page: ground is clicked, and the clock runs until the frame after it was drawn. */
async function clicksOn(page: Page): Promise<number[]> {
  await page.goto(`http://127.0.0.1:${PORT}/territories`);
  await page.locator('.grounds path').first().waitFor();
  await page.getByLabel('Part of the world').click();
  await page.getByRole('option', { name: 'World' }).click();
  await page.waitForTimeout(3000);
  return page.evaluate(async (count) => {
    const took: number[] = [];
    const paths = Array.from(document.querySelectorAll('.grounds path[data-code]:not([data-code=""])'));
    for (let i = 0; i < count; i += 1) {
      const path = paths[(i * 37) % paths.length];
      const began = performance.now();
      path?.dispatchEvent(new MouseEvent('click', { bubbles: true }));
      await new Promise<void>((drawn) => {
        requestAnimationFrame(() => {
          const after = new MessageChannel();
          after.port1.onmessage = () => drawn();
          after.port2.postMessage(null);
        });
      });
      took.push(performance.now() - began);
      if (document.querySelectorAll('.chosen path').length !== 1) throw new Error('The click chose nothing');
      await new Promise((pause) => setTimeout(pause, 200));
    }
    return took;
  }, CLICKS);
}

/** The same charter and draft with many territories of postal codes beside those of the demo. */
function withMany(state: CharterState): CharterState {
  const dice = new Dice(15);
  const digits = (length: number): string => String(dice.whole(10 ** length)).padStart(length, '0');
  const more = Array.from({ length: MANY }, (_, i): Territory => ({
    ...{ key: `more-${i}` as TerritoryKey, name: `More ${i}`, parent: null },
    ...{ code: null, colour: null, team: null, manager: null, countries: [], regions: [] },
    postalCodes: [
      { kind: 'code', country: 'US', code: digits(5) },
      { kind: 'prefix', country: 'DE', prefix: digits(4) },
    ],
  }));
  const drawn = <T extends CharterState['inForce']['charter']>(charter: T): T => ({
    ...charter,
    territories: { ...charter.territories, list: [...charter.territories.list, ...more] },
  });
  const { inForce, draft } = state;
  return {
    ...state,
    inForce: { ...inForce, charter: drawn(inForce.charter) },
    draft: draft && { ...draft, charter: drawn(draft.charter) },
  };
}

/** In the page: a country is taken out of a territory, and taken back, and the clock runs until the impact's number is another. */
async function editsOn(page: Page): Promise<number[]> {
  await page.goto(`http://127.0.0.1:${PORT}/territories`);
  await page.locator('.grounds path').first().waitFor();
  await page.getByRole('button', { name: 'Edit Nordics', exact: true }).click();
  await page.locator('rv-territory-editor').waitFor();
  await page.locator('.impact .headline').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(3000);
  return page.evaluate(async (count) => {
    const row = Array.from(document.querySelectorAll('.impact tr')).find((one) =>
      /Territories that change/.test(one.textContent),
    );
    const panel = document.querySelector('.impact');
    if (row === undefined || panel === null) throw new Error('The page is not the one to measure');
    const number = (): string =>
      Array.from(document.querySelectorAll('.impact tr')).find((one) => /Territories that change/.test(one.textContent))
        ?.textContent ?? '';
    const took: number[] = [];
    for (let i = 0; i < count; i += 1) {
      const before = number();
      const button = Array.from(document.querySelectorAll('button')).find((one) =>
        i % 2 === 0
          ? one.getAttribute('aria-label') === 'Take Denmark out'
          : one.textContent.trim() === 'Undo the last change',
      );
      if (button === undefined) throw new Error('Nothing to edit');
      const began = performance.now();
      button.click();
      await new Promise<void>((changed) => {
        const watch = new MutationObserver(() => {
          if (number() === before) return;
          watch.disconnect();
          requestAnimationFrame(() => changed());
        });
        watch.observe(panel, { subtree: true, childList: true, characterData: true });
        setTimeout(() => changed(), 5000);
      });
      took.push(performance.now() - began);
      await new Promise((pause) => setTimeout(pause, 900));
    }
    return took;
  }, EDITS);
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
