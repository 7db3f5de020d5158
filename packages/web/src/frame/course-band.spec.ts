import { TestBed } from '@angular/core/testing';
import { withSets } from '../../../core/src/charter/changed-charter.fixture';
import { HomeService } from '../home/home.service';
import { NearWorker, sendPopulation, until } from '../impact/near-worker.fixture';
import { IMPACT_WORKER } from '../impact/worker-factory';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { CourseBand } from './course-band';
import { CharterPanel } from './charter-panel';

const COURSE = { intake: 2000, score: 1950, grade: 1950, gates: 600, territories: 590, routes: 590, people: 575 };

async function open(state = charterState(null)): Promise<PageTest<CourseBand>> {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(CourseBand, {}, state);
  TestBed.inject(HomeService).load();
  await page.answer('/api/home', { course: COURSE, byStatus: [], byStage: [] });
  return page;
}

/** How deep the water is at each step, from the path's lowest points. */
const depths = (path: string): number[] =>
  [...path.matchAll(/(-?\d+(?:\.\d+)?),(-?\d+(?:\.\d+)?)/g)].map(([, , y]) => Number(y));

test('the water’s width is the number of leads at each step, and what leaves it is named', async () => {
  const page = await open();
  const steps = [...page.element.querySelectorAll('.names a')].map(wordsOf);
  expect(steps).toEqual([
    'Intake 2,000',
    'Score 1,950',
    'Grade 1,950',
    'Gates 600',
    'Territories 590',
    'Routes 590',
    'People 575',
  ]);
  const losses = [...page.element.querySelectorAll('.losses span')].map(wordsOf);
  expect(losses).toEqual(['can’t be judged 50', 'not handed over 1,350', 'open ground 10', 'queue or bay 15']);
  const water = depths(page.find('path.run').getAttribute('d') ?? '');
  expect(Math.max(...water)).toBeCloseTo(46);
  // As deep as leads are many, above a least depth that can be met with the pointer.
  expect(water.some((depth) => Math.abs(depth - (5 + (41 * 600) / 2000)) < 0.01)).toBe(true);
  expect(page.element.querySelector('.draft-bank')).toBeNull();
});

test('with a draft open its bank is drawn over the water, shifted by what the impact says', async () => {
  const charter = withSets(CHARTER, (set) => ({
    ...set,
    grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [10, 20] } },
  }));
  const page = await open(charterState({ charter }));
  await sendPopulation(page);
  for (let tries = 0; tries < 60 && page.element.querySelector('.draft-bank') === null; tries += 1) {
    await page.passes(20);
  }
  const bank = depths(page.find('.draft-bank').getAttribute('d') ?? '');
  expect(bank.length).toBeGreaterThan(10);
  expect(Math.max(...bank)).toBeCloseTo(46);
});

test('the panel begins a draft by name, keeps a name that is refused, and says while something is saved', async () => {
  const page = await PageTest.open(CharterPanel, {}, charterState(null));
  await page.click('New draft');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  page.http.expectNone('/api/drafts');
  await page.type('input', ' Spring ');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  const refused = page.sent('/api/drafts', 'POST');
  expect(refused.body).toEqual({ name: 'Spring' });
  await refused.answer({ title: 'No', status: 500 }, 500);
  expect((page.find('input') as HTMLInputElement).value).toBe(' Spring ');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  await page.sent('/api/drafts', 'POST').answer(charterState({}));
  await until(page, 'Draft Next');
  expect(page.text).toContain('Enact…');
});
