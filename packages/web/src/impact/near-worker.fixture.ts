import { encodePopulation, JUST_IN, readValue } from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import { SMALL_WORLD, smallWorld } from '../../../core/src/charter/charter.fixture';
import type { PageTest } from '../page.fixture';
import { WorkerDesk } from './worker-desk';
import type { FromWorker, ToWorker } from './worker-messages';

/** The worker's own desk, in the page's thread; it can be made to die. */
export class NearWorker {
  static last: NearWorker | null = null;
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: (() => void) | null = null;
  /** All that was sent to it. */
  readonly got: ToWorker[] = [];
  private readonly desk = new WorkerDesk();
  constructor() {
    NearWorker.last = this;
  }
  postMessage(message: ToWorker): void {
    this.got.push(message);
    void Promise.resolve().then(() => this.onmessage?.({ data: this.desk.answer(message) }));
  }
  terminate(): void {
    this.onmessage = null;
  }
}

const world = smallWorld();
/** What most tests are about. */
export const FOUR = ['Brewery', 'Brewery', 'Fish farm', 'Golf course'];
export const AS_OF = Date.parse('2026-03-02T09:00:00Z');

/** Leads of these industries, one a second; '' is blank. Addresses are withheld, as the server does it. */
export function populationOf(industries: readonly string[]): ArrayBuffer {
  const records = industries.map((industry, i) => ({
    record: {
      id: String(i + 1),
      kind: 'lead' as const,
      arrived: AS_OF - i * 1000,
      way: 'api' as const,
      values: new Map([['industry', readValue(world.fields.get('industry')!, industry, '2026-03-02')]]),
      activities: [],
      standing: { ...JUST_IN, stage: 'new' as never },
    },
    closed: null,
    touched: AS_OF,
  }));
  const bytes = populationToArrow(
    {
      ...encodePopulation(records, world.fields),
      withheld: new Map([['email', 'all but the domain']]),
    },
    { asOf: AS_OF, version: '1', past: [] },
  );
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}

/** The server's side of loading: it says where to compute, then sends the population and the world. */
export async function sendPopulation(page: PageTest<unknown>, bytes = populationOf(FOUR)): Promise<void> {
  await page.answer('/api/population/version', { version: '1', place: 'browser' });
  page.http.expectOne('/api/population').flush(bytes);
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
}

/** Waits until the page says something; names of leads are answered meanwhile. */
export async function until(page: PageTest<unknown>, words: string): Promise<void> {
  for (let tries = 0; tries < 60 && !page.text.includes(words); tries += 1) {
    await page.passes(20);
    for (const names of page.http.match((one) => one.url === '/api/lead-names'))
      names.flush([1, 2, 3, 4].map((id) => ({ id, name: `Person ${id}`, company: `Firm ${id}` })));
    await page.settle();
  }
  if (!page.text.includes(words)) throw new Error(`The page does not say “${words}”, but: ${page.text}`);
}
