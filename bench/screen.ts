import { populationToArrow } from '@relvik/formats';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { median } from './measure';
import { answerFrom, type Clock, installClock, signedIn, startDemo } from './opened-page';
import { AS_OF, FIELDS, populationOf, ready, recordsOf } from './setting';

/** S8: typing with 100,000 records in the worker; how long until the impact is redrawn, and whether the page ever stood still. */

const COUNT = 100_000;
const EDITS = 60;
/** Edits before the count begins: they are printed apart. */
const WARM = 10;
const PORT = 4420;

async function main(): Promise<void> {
  const server = await startDemo(PORT);
  const bytes = Buffer.from(
    populationToArrow(populationOf(recordsOf(COUNT)), {
      asOf: AS_OF,
      version: '1',
      past: [],
    }),
  );
  const { browser, page } = await signedIn(PORT);
  await installClock(page);
  await answerFrom(page, { bytes, charter: ready().charter, fields: [...FIELDS.values()] });
  await page.goto(`http://127.0.0.1:${PORT}/score`);
  await page.locator('.headline').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(3000);

  // In the page: a key is typed, and the clock runs until the panel's numbers are other ones.
  const seen = await page.evaluate(async (edits) => {
    const { clock } = globalThis as unknown as { clock: Clock };
    const field = document.querySelector<HTMLInputElement>('input[aria-label="Points for a7"]');
    if (field === null || clock.impact() === '') throw new Error('The page is not the one to measure');
    const before = clock.blocks.length;
    const took: number[] = [];
    for (let i = 0; i < edits; i += 1) {
      const type = (): void => {
        field.value = String(10 + ((i * 7) % 23));
        field.dispatchEvent(new Event('input', { bubbles: true }));
      };
      took.push(await clock.untilOther(() => clock.impact(), type));
      await new Promise((pause) => setTimeout(pause, 700));
    }
    return { took, blocks: clock.blocks.slice(before) };
  }, WARM + EDITS);
  await browser.close();
  server.stop();

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
    join(__dirname, '../docs/speed-screen.md'),
    `# Speed of the screen (S8)\n\nWritten by \`npm run bench:screen\` on ${new Date().toISOString().slice(0, 10)}, in Chromium at 1280×800, on the machine of speed.md: the Score page of the built application, the charter and
population of the bench in its worker.\n\n- ${lines.join('\n- ')}\n`,
  );
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
