import { Location } from '@angular/common';
import { TestBed } from '@angular/core/testing';
import type { ImpactQuestionName, Pair } from '@relvik/core';
import { withPoints, withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SMALL_WORLD } from '../../../core/src/charter/charter.fixture';
import { CharterService } from '../charter/charter.service';
import { charterState, CHARTER, PageTest } from '../page.fixture';
import { ImpactPanel } from './impact-panel';
import { ImpactService } from '../impact/impact.service';
import { AS_OF, FOUR, NearWorker, populationOf, sendPopulation, until } from '../impact/near-worker.fixture';
import { IMPACT_WORKER } from '../impact/worker-factory';
import { WorkerDesk } from '../impact/worker-desk';

const draft = (points: number) => ({
  ...withPoints(CHARTER, 'trade', points),
  name: 'Next',
});

async function loaded(points: number, charter = draft(points)): Promise<PageTest<ImpactPanel>> {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({ charter }));
  await sendPopulation(page);
  return page;
}

test('how many change grade, from where to where, and which; then who owns them', async () => {
  const page = await loaded(20);
  await until(page, '3 of 4 leads change grade: 0 up , 3 down');
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

test('what gates ask is told, and may be counted as accepted', async () => {
  const charter = draft(20);
  const [first] = charter.gates;
  const decider = { kind: 'asks', withoutOwner: null, alternatives: [] } as const;
  const page = await loaded(20, {
    ...charter,
    gates: [{ ...first!, when: { test: 'all', of: [] }, decider }],
  });
  await until(page, 'A person is asked about 0 +4');
  expect(page.text).toContain('Count what gates ask as accepted');
  page.find('.accepted input').click();
  await until(page, 'Stages that move – 4');
  expect(page.text).not.toContain('A person is asked about');
  page.find('.accepted input').click();
  await until(page, 'A person is asked about');
});

test('a band that the draft renames has its own name on each side of the picture', async () => {
  const renamed = withSets(draft(20), (set) => {
    const bands = set.grid.fit.bands.map((band) => ({ ...band, name: `${band.name}'` }));
    return { ...set, grid: { ...set.grid, fit: { ...set.grid.fit, bands } } };
  });
  const page = await loaded(20, renamed);
  await until(page, '3 of 4 leads change grade');
  const [fit] = page.element.querySelectorAll('rv-flow-chart');
  const boxes = (side: string): string =>
    [...fit!.querySelectorAll(`g.${side} text`)].map((text) => text.textContent).join(' ');
  expect([boxes('before'), boxes('after')]).toEqual(['B C', `C'`]);
});

test('leads that changed since are told when one comes back to a page, and counted anew when asked', async () => {
  const page = await loaded(20);
  await until(page, '3 of 4 leads change grade');
  expect(page.text).not.toContain('Leads changed since');
  TestBed.inject(ImpactService).want();
  await page.answer('/api/population/version', { version: '2', place: 'browser' });
  await until(page, 'Leads changed since');
  await page.click('Recalculate');
  await sendPopulation(page, populationOf([...FOUR, 'Brewery']));
  await until(page, '4 of 5 leads change grade');
  expect(page.text).not.toContain('Leads changed since');
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
  desk.answer({ id: 0, kind: 'load', bytes: populationOf(FOUR), world: SMALL_WORLD });
  const asked: string[] = [];
  for (let turn = 0; turn < 200 && !asked.includes('owners'); turn += 1) {
    await page.passes(5);
    for (const one of page.http.match('/api/population/questions')) {
      const { question, asks } = one.request.body as { question: ImpactQuestionName; asks: { pair: Pair } };
      const { pair, ...rest } = asks;
      asked.push(question);
      const whole = (number: number, charter: object) => ({
        number,
        from: null,
        delta: JSON.stringify({ is: charter }),
      });
      const charters = [whole(1, pair.inForce), whole(2, pair.draft)];
      const numbers = { inForce: 1, draft: 2 };
      const said = desk.answer({ id: 1, kind: 'ask', question, asks: rest, pair: numbers, charters });
      one.flush({
        population: { ...state, version: '8', size: 300_001 },
        answer: said.said === 'answer' ? said.answer : null,
      });
    }
  }
  await until(page, '3 of 4 leads change grade: 0 up , 3 down');
  expect(new Set(asked)).toEqual(new Set(['impact', 'tally', 'owners']));
  expect(page.text).toContain('300,001 leads');
});

test('the worker is sent a charter once, and of an edit only the draft', async () => {
  const page = await loaded(20);
  await until(page, 'With an owner 0 =');
  const sent = (): number[] =>
    (NearWorker.last?.got ?? []).flatMap((one) => (one.kind === 'ask' ? [one.charters.length] : []));
  expect(sent()).toEqual([2, 0, 0]);
  TestBed.inject(CharterService).change(() => draft(60));
  await until(page, 'No lead changes grade.');
  await until(page, 'With an owner 0 =');
  expect(sent()).toEqual([2, 0, 0, 1, 0, 0]);
});

test('a population that can’t be read is said, and the page stays', async () => {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ImpactPanel, {}, charterState({}));
  await sendPopulation(page, new ArrayBuffer(12));
  await until(page, 'Something went wrong on this page');
});
