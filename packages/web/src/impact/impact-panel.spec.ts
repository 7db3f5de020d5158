import { Location } from '@angular/common';
import { TestBed } from '@angular/core/testing';
import { encodePopulation, type ImpactQuestionName, readValue } from '@relvik/core';
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

/** The server's side of loading: it says where to compute, then sends the population and the world. */
async function sendPopulation(page: PageTest<ImpactPanel>, bytes = population()): Promise<void> {
  await page.answer('/api/population/version', { version: '1', place: 'browser' });
  page.http.expectOne('/api/population').flush(bytes);
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
}

async function loaded(points: number): Promise<PageTest<ImpactPanel>> {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({ charter: draft(points) }));
  await sendPopulation(page);
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
  await sendPopulation(page);
  await until(page, 'No lead changes grade.');
  await page.click('On enact');
  await until(page, 'No lead changes grade.');
});

test('a worker that dies again at once is not begun for ever: it is said, the draft stays, and one may try again', async () => {
  const page = await loaded(20);
  await until(page, '3 of 4 leads change grade');
  NearWorker.last?.onerror?.();
  await sendPopulation(page);
  await until(page, '3 of 4 leads change grade');
  NearWorker.last?.onerror?.();
  await until(page, 'The impact can’t be computed in this browser');
  expect(page.text).toContain('The draft is safe');
  page.http.expectNone('/api/population/version');
  await page.click('Try again');
  await sendPopulation(page);
  await until(page, '3 of 4 leads change grade');
});

test('pictures of stages, territories and loads: how many before and after, and people against their limits', async () => {
  const page = await loaded(20);
  await until(page, '3 of 4 leads change grade');
  const rows = (): string[] => [...page.element.querySelectorAll('rv-shift-chart title')].map((one) => one.textContent);
  await page.click('Stage');
  expect(rows()).toEqual(['New: 3 in force, 0 in the draft', 'Disqualified: 1 in force, 4 in the draft']);
  expect(page.find('rv-shift-chart svg').getAttribute('aria-label')).toContain('New 3 to 0');
  await page.click('Owner');
  await until(page, 'Open leads at the end');
});

test('a lead that changes opens its reasoning under both charters', async () => {
  const page = await loaded(20);
  await until(page, 'Firm 2');
  await page.click('Why Firm 2 changes: the reasoning of both charters');
  page.http.expectOne('/api/leads/2/record');
  expect(TestBed.inject(Location).path()).toBe('/tracer');
});

test('what is too many for the browser is asked of the server, and a population read anew meanwhile is named', async () => {
  const page = await PageTest.open(ImpactPanel, {}, charterState({ charter: draft(20) }));
  await page.answer('/api/population/version', { version: '7', place: 'server' });
  const state = { version: '7', size: 300_000, asOf: AS_OF };
  await page.answer('/api/population/desk', state);
  const desk = new WorkerDesk();
  desk.answer({ id: 0, kind: 'load', bytes: population(), world: SMALL_WORLD });
  const asked: string[] = [];
  for (let turn = 0; turn < 200 && !asked.includes('owners'); turn += 1) {
    await new Promise((resume) => setTimeout(resume, 5));
    for (const one of page.http.match('/api/population/questions')) {
      const { question, asks } = one.request.body as { question: ImpactQuestionName; asks: never };
      asked.push(question);
      const said = desk.answer({ id: 1, kind: 'ask', question, asks });
      one.flush({
        population: { ...state, version: '8', size: 300_001 },
        answer: said.said === 'answer' ? said.answer : null,
      });
    }
  }
  await until(page, '3 of 4 leads change grade: 0 up, 3 down.');
  expect(new Set(asked)).toEqual(new Set(['impact', 'tally', 'owners']));
  expect(page.text).toContain('300,001 leads');
});

test('a population that can’t be read is said, and the page stays', async () => {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({}));
  await sendPopulation(page, new ArrayBuffer(12));
  await until(page, 'Something went wrong on this page');
});
