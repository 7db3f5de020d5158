import type { Page } from '@playwright/test';
import { type Charter, encodePopulation, type Field, type MovingRecord, readCharter } from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Dice } from './dice';
import { median, percentile95 } from './measure';
import { answerFrom, type Clock, installClock, signedIn, startDemo } from './opened-page';
import { AS_OF, CHARTER_JSON, FIELDS, recordsOf } from './setting';
import { ADDRESS_FIELDS, addressed, LOOKED } from './territories.bench';

/** The Territories page: a click on the map, and an edit among many territories. `npm run bench:map`. */

const PORT = 4421;
const COUNT = 100_000;
const TERRITORIES = 2000;
const CLICKS = 40;
const EDITS = 40;
/** Edits and clicks before the count begins. */
const WARM = 8;

/** All countries and the subdivisions of the four countries that have a map, clicked one after the other. */
async function clickOften(page: Page): Promise<number[]> {
  await page.goto(`http://127.0.0.1:${PORT}/territories`);
  await page.locator('.grounds path').first().waitFor({ timeout: 60_000 });
  await page.waitForTimeout(2000);
  return page.evaluate(async (clicks) => {
    const { clock } = globalThis as unknown as { clock: Clock };
    const grounds = Array.from(document.querySelectorAll('.grounds path[data-code]')).filter(
      (path) => (path.getAttribute('data-code') ?? '') !== '',
    );
    const shown = (): string => document.querySelector('rv-chosen-ground')?.textContent ?? '';
    const took: number[] = [];
    for (let i = 0; i < clicks; i += 1) {
      const ground = grounds[(i * 37) % grounds.length];
      took.push(await clock.untilOther(shown, () => ground?.dispatchEvent(new MouseEvent('click', { bubbles: true }))));
      await new Promise((pause) => setTimeout(pause, 200));
    }
    return took;
  }, CLICKS + WARM);
}

/**
 * The bench's charter with many territories: those by country, which its routes ask for, and others of a range of postal codes and
 * of one code beside it. Nothing overlaps.
 */
function charterWithMany(): Charter {
  const byCountry = CHARTER_JSON.territories.list;
  const others = Array.from({ length: TERRITORIES - byCountry.length }, (_, i) => {
    const country = i % 2 === 0 ? 'US' : 'DE';
    const from = 10_000 + 44 * i;
    const range = { kind: 'range', country, from: String(from), to: String(from + 39) };
    const code = { kind: 'code', country, code: String(from + 41) };
    return { key: `p${i}`, name: `Territory ${i}`, parent: null, countries: [], postalCodes: [range, code] };
  });
  const list = [...byCountry, ...others];
  const reading = readCharter({ ...CHARTER_JSON, territories: { ...LOOKED, regionField: 'state', list } });
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
}

/** The bench's records, with the state and postal code of an address beside. */
function populationWithAddresses(): { readonly bytes: Buffer; readonly fields: readonly Field[] } {
  const [, region, postal] = ADDRESS_FIELDS as [Field, Field, Field];
  const fields = [...FIELDS.values(), { ...region, key: 'state', name: 'State' }, postal];
  const addresses = addressed(COUNT, new Dice(16));
  const records = recordsOf(COUNT).map((one, i) => {
    const { values } = addresses[i] as MovingRecord;
    const own = new Map(one.record.values);
    for (const [from, to] of [
      ['country', 'country'],
      ['region', 'state'],
      ['postal', 'postal'],
    ] as const) {
      const value = values.get(from);
      if (value !== undefined) own.set(to, value);
    }
    return { ...one, record: { ...one.record, values: own } };
  });
  const population = encodePopulation(records, new Map(fields.map((field) => [field.key, field])));
  return { bytes: Buffer.from(populationToArrow(population, { asOf: AS_OF, version: '1', past: [] })), fields };
}

/** Norway is taken from its territory and given back, over and over. */
async function editOften(page: Page): Promise<{ readonly took: number[]; readonly blocks: number[] }> {
  await answerFrom(page, { charter: charterWithMany(), ...populationWithAddresses() });
  await page.goto(`http://127.0.0.1:${PORT}/territories`);
  await page.locator('.headline').waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Edit t0', exact: true }).click();
  await page.waitForTimeout(3000);
  return page.evaluate(async (edits) => {
    const { clock } = globalThis as unknown as { clock: Clock };
    const find = (selector: string): HTMLElement => {
      const found = document.querySelector<HTMLElement>(selector);
      if (found === null) throw new Error(`Not on the page: ${selector}`);
      return found;
    };
    const pause = (): Promise<void> => new Promise((resume) => setTimeout(resume, 700));
    const before = clock.blocks.length;
    const took: number[] = [];
    for (let i = 0; i < edits; i += 1) {
      if (i % 2 === 1) {
        const area = find('textarea[aria-label="Ground to add"]') as HTMLTextAreaElement;
        area.value = 'Norway';
        area.dispatchEvent(new Event('input', { bubbles: true }));
        await pause();
      }
      const act = (): void => {
        const button =
          i % 2 === 0
            ? find('button[aria-label="Take Norway out"]')
            : Array.from(document.querySelectorAll('button')).find((one) => one.textContent.trim() === 'Add');
        button?.click();
      };
      took.push(await clock.untilOther(() => clock.impact(), act));
      await pause();
    }
    return { took, blocks: clock.blocks.slice(before) };
  }, EDITS + WARM);
}

async function main(): Promise<void> {
  const server = await startDemo(PORT);
  const { browser, page } = await signedIn(PORT);
  await installClock(page);
  const clicks = (await clickOften(page)).slice(WARM);
  const { took, blocks } = await editOften(page);
  await browser.close();
  server.stop();
  const edits = took.slice(WARM);
  const ms = (value: number): string => value.toFixed(0);
  const verdict = (value: number, goal: number): string =>
    `(goal ≤ ${goal} ms, ${value <= goal ? 'reached' : '**not reached**'})`;
  const longest = Math.max(0, ...blocks);
  const lines = [
    `A click on the map until what was chosen is shown, with all countries and the four countries’ subdivisions drawn, ${CLICKS} clicks: median ${ms(median(clicks))} ms, 95th percentile ${ms(percentile95(clicks))} ms ${verdict(median(clicks), 50)}.`,
    `An edit among ${TERRITORIES.toLocaleString('en')} territories until the impact on ${COUNT.toLocaleString('en')} records is redrawn, ${EDITS} edits: median ${ms(median(edits))} ms, 95th percentile ${ms(percentile95(edits))} ms ${verdict(percentile95(edits), 60)}.`,
    `Longest block of the main thread in those edits: ${longest === 0 ? 'below 50' : ms(longest)} ms ${verdict(longest, 50)}; tasks of 50 ms and more seen: ${blocks.length}.`,
  ];
  console.log(lines.join('\n'));
  writeFileSync(
    join(__dirname, '../docs/speed-map.md'),
    `# Speed of the Territories page\n\nWritten by \`npm run bench:map\` on ${new Date().toISOString().slice(0, 10)}, in Chromium at 1280×800, on the machine of speed.md: the built application, clicks
on the demo’s world, edits on the charter and population of the bench with addresses in ten countries.\n\n- ${lines.join('\n- ')}\n`,
  );
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
