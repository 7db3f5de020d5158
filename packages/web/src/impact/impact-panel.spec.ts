import { TestBed } from '@angular/core/testing';
import { encodePopulation, readValue } from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import { SMALL_WORLD, smallWorld } from '../../../core/src/charter/charter.fixture';
import { charterState, CHARTER, PageTest } from '../page.fixture';
import { ImpactPanel } from './impact-panel';
import { IMPACT_WORKER } from './worker-factory';
import { WorkerDesk } from './worker-desk';
import type { FromWorker, ToWorker } from './worker-messages';

/** The worker's own desk, in the page's thread; it can be made to die. */
class NearWorker {
  static last: NearWorker | null = null;
  onmessage: ((event: { data: FromWorker }) => void) | null = null;
  onerror: (() => void) | null = null;
  private readonly desk = new WorkerDesk();
  constructor() {
    NearWorker.last = this;
  }
  postMessage(message: ToWorker): void {
    void Promise.resolve().then(() => this.onmessage?.({ data: this.desk.answer(message) }));
  }
  terminate(): void {
    this.onmessage = null;
  }
}

const world = smallWorld();
const AS_OF = Date.parse('2026-03-02T09:00:00Z');

function population(): ArrayBuffer {
  const records = ['Brewery', 'Brewery', 'Fish farm', 'Golf course'].map((industry, i) => ({
    record: {
      id: String(i + 1),
      arrived: AS_OF - i * 1000,
      status: 'open' as const,
      stage: 'new' as never,
      place: null,
      pin: null,
      values: new Map([['industry', readValue(world.fields.get('industry')!, industry, '2026-03-02')]]),
      activities: [],
      looks: new Map(),
    },
    closed: null,
    touched: AS_OF,
  }));
  const bytes = populationToArrow(encodePopulation(records, world.fields, world.rates, 'EUR'), {
    asOf: AS_OF,
    version: '1',
    baseCurrency: 'EUR',
  });
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}

const draft = (points: number) => ({
  ...CHARTER,
  name: 'Next',
  scoreSet: {
    ...CHARTER.scoreSet,
    signals: CHARTER.scoreSet.signals.map((one) => (one.key === 'trade' ? { ...one, points } : one)),
  },
});

async function until(page: PageTest<ImpactPanel>, words: string): Promise<void> {
  for (let tries = 0; tries < 60 && !page.text.includes(words); tries += 1) {
    await new Promise((resume) => setTimeout(resume, 20));
    for (const names of page.http.match((one) => one.url === '/api/lead-names'))
      names.flush([1, 2, 3, 4].map((id) => ({ id, name: `Person ${id}`, company: `Firm ${id}` })));
    await page.settle();
  }
  expect(page.text).toContain(words);
}

async function loaded(points: number): Promise<PageTest<ImpactPanel>> {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({ charter: draft(points) }));
  page.http.expectOne('/api/population').flush(population());
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
  return page;
}

test('how many change grade, from where to where, and which; then who owns them', async () => {
  const page = await loaded(20);
  await until(page, '3 of 4 leads change grade: 0 up, 3 down.');
  await until(page, 'Firm 2');
  await until(page, 'With an owner 0 =');
  expect(page.text).toContain('Stages that move – 3');
  await page.click('Stage');
  await until(page, 'Firm 1 New → Disqualified');
});

test('a draft that changes nothing says so, and a worker that dies is begun anew with the page still usable', async () => {
  const page = await loaded(60);
  await until(page, 'No lead changes grade.');
  NearWorker.last?.onerror?.();
  await new Promise((resume) => setTimeout(resume, 20));
  page.http.expectOne('/api/population').flush(population());
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
  await until(page, 'No lead changes grade.');
  await page.click('On enact');
  await until(page, 'No lead changes grade.');
});

test('a population that can’t be read is said, and the page stays', async () => {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({}));
  page.http.expectOne('/api/population').flush(new ArrayBuffer(12));
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
  await until(page, 'Something went wrong on this page');
});
