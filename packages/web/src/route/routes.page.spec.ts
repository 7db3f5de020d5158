import { TestBed } from '@angular/core/testing';
import type { SaveDraft } from '@relvik/contracts';
import { SMALL_WORLD } from '../../../core/src/charter/charter.fixture';
import { ImpactService } from '../impact/impact.service';
import { charterState, CHARTER, PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { MomentService } from '../tracer/moment.service';
import { TracerService } from '../tracer/tracer.service';
import { RoutesPage } from './routes.page';

/** The small world with someone who works on Mondays from nine to ten. */
const WORLD = {
  ...SMALL_WORLD,
  reps: SMALL_WORLD.reps.map((rep) =>
    rep.key === 'bo' ? { ...rep, hours: { timeZone: 'UTC', weekly: [{ day: 1, from: '09:00', to: '10:00' }] } } : rep,
  ),
};
const text = (word: string) => ({ kind: 'text', text: word, folded: word.toLowerCase() });
const NEXT = {
  leads: [7, 8, 9].map((id) => ({
    ...{ name: `Lead ${id}`, company: '' },
    record: {
      ...{ id, arrived: 0, way: null, pin: null, tied: [], activities: [] },
      values: [
        ['country', text('NO')],
        ['industry', text('Brewery')],
        ['employees', { kind: 'number', scaled: 9_000_000, decimals: 4 }],
      ],
    },
  })),
  unknown: [],
};

async function open(state = charterState({})): Promise<PageTest<RoutesPage>> {
  const page = await PageTest.open(RoutesPage, {}, state);
  await page.answer('/api/people', PEOPLE);
  await page.answer('/api/world', WORLD);
  await page.answer('/api/next-leads', NEXT);
  await page.answer('/api/rule-counts', {
    routes: { north: { leads: 12, waiting: 3, last: Date.now() - 2 * 3_600_000 } },
    routesChanged: { north: { charter: 1, name: 'Spring', by: 'Runa Vestmar', at: Date.UTC(2026, 2, 3) } },
    territories: {},
    openGround: [],
    cells: [],
  });
  return page;
}

const routesSent = (body: unknown) => (body as SaveDraft).charter.streams[0]?.routes ?? [];

test('routes are read in order with condition, target, what they took and whose they are; the last resort stands below', async () => {
  const page = await open(charterState(null));
  const rows = [...page.element.querySelectorAll('.route')].map(wordsOf);
  expect(rows.slice(1)).toEqual([
    '1 12 Large deals Deal value from 20,000 EUR Ada Lindqvist 0',
    '2 12 Nordics Runa Vestmar , 3 Mar 2026 Territory is Nordics Team north round robin 12 2 hours ago 3 wait',
    '3 0 D-A-CH Territory is D-A-CH Queue Projects 0',
    'Last resort what no route takes; operations is told Queue Operations waiting',
  ]);
});

test('a route is moved by keyboard and saved; the first can’t go up', async () => {
  const page = await open();
  expect(page.button('Move Large deals up').disabled).toBe(true);
  await page.click('Move Nordics up');
  await page.saved();
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  expect(routesSent(body).map((route) => route.key)).toEqual(['north', 'large', 'centre']);
  await answer(charterState({ version: 5, charter: (body as SaveDraft).charter }));
  expect(page.text).toMatch(/1 [\d,]+ Nordics moved/);
  expect(page.text).toMatch(/2 [\d,]+ Large deals moved/);
  expect(page.text).not.toContain('D-A-CH moved');
});

test('what differs from what is in force is marked: new routes and other targets', async () => {
  const [stream] = CHARTER.streams;
  if (stream === undefined) throw new Error('The small charter has a stream');
  const [large, north, centre] = stream.routes;
  if (large === undefined || north === undefined || centre === undefined) throw new Error('and three routes');
  const extra = { ...large, key: 'extra' as never, name: 'Extra' };
  const charter = { ...CHARTER, streams: [{ ...stream, routes: [large, extra, { ...north, to: centre.to }, centre] }] };
  const page = await open(charterState({ charter }));
  const marked = [...page.element.querySelectorAll('.in-draft-row')].map(wordsOf);
  expect(marked).toHaveLength(2);
  expect(marked[0]).toContain('Extra new');
  expect(marked[1]).toContain('Team north');
});

test('over the funnel in the draft stands what comes to each route in force', async () => {
  const [stream] = CHARTER.streams;
  const [large, north, centre] = stream!.routes;
  const page = await open(
    charterState({ charter: { ...CHARTER, streams: [{ ...stream!, routes: [north!, large!, centre!] }] } }),
  );
  const lines = () => [...page.element.querySelectorAll('.funnel .in-force')].map((one) => one.getAttribute('points'));
  expect(lines()).toEqual([]);
  TestBed.inject(ImpactService).taken.set({ routes: { large: 50, north: 25, centre: 0 }, routed: 100, lastResort: 25 });
  await page.settle();
  // Nordics stands first in the draft; in force half of all leads come to it, and a quarter is left after it.
  expect(lines()).toEqual(['25,0 75,0 62.5,30 37.5,30', '0,0 100,0 75,30 25,30', '37.5,0 62.5,0 62.5,30 37.5,30']);
});

test('what the routes show by themselves stands beside them, and a record that proves it is carried along', async () => {
  const page = await open();
  const value = { kind: 'field', field: 'deal_value' } as const;
  TestBed.inject(ImpactService).findings.set([
    {
      code: 'route-never-reached',
      severity: 'warning',
      stream: 'main',
      route: 'centre' as never,
      takenBy: 'north' as never,
    },
    {
      code: 'gap-between-numbers',
      severity: 'warning',
      stream: 'main',
      below: 'large' as never,
      above: 'north' as never,
      subject: value,
      from: '12000.00',
      to: '12000.00',
      witness: [{ subject: value, value: '12000.00 EUR' }],
    },
  ]);
  await page.settle();
  const beside = [...page.element.querySelectorAll('.finding')].map(wordsOf);
  expect(beside).toEqual([
    'Deal value exactly 12,000.00 EUR is taken neither by Large deals nor by Nordics, and goes to the last resort. Carry such a lead as tracer',
    'Never reached: Nordics takes all that it would. Move it before Nordics',
  ]);
  await page.click('Move it before Nordics');
  await page.saved();
  const { routes } = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter.streams[0]!;
  expect(routes.map(({ key }) => key)).toEqual(['large', 'centre', 'north']);
  await page.click('Carry such a lead as tracer');
  page.http.expectOne('/api/world').flush(SMALL_WORLD);
  expect(TestBed.inject(TracerService).valueOf('deal_value').now).toMatchObject({ kind: 'money', minor: 1_200_000 });
});

test('the next leads go through the draft in order, at another moment and with someone away', async () => {
  const charter = {
    ...CHARTER,
    gates: CHARTER.gates.map((gate) => ({ ...gate, when: { test: 'all', of: [] } as never })),
  };
  const page = await open(charterState({ charter }));
  const moment = TestBed.inject(MomentService);
  const rows = () => [...page.element.querySelectorAll('.next-ten tbody tr')].map(wordsOf);
  moment.at.set(Date.parse('2026-03-02T09:30:00Z'));
  await page.settle();
  expect(rows().map((row) => row.replace(/ (Cai|Bo|Ada).*$/, ''))).toEqual([
    '1 Lead 7 Nordics',
    '2 Lead 8 Nordics',
    '3 Lead 9 Nordics',
  ]);
  expect(rows().map((row) => /Nordics (\w+ \w+)/.exec(row)?.[1])).toEqual([
    'Ada Lindqvist',
    'Bo Rask',
    'Ada Lindqvist',
  ]);
  moment.at.set(Date.parse('2026-03-02T10:00:00Z'));
  moment.away.set(['ada' as never]);
  await page.settle();
  expect(rows()[0]).toMatch(/^1 Lead 7 Nordics waits .*Ada Lindqvist is away.*Bo Rask does not work until/);
});

test('method, hours and what if nobody is free are changed in place, and sent with the draft', async () => {
  const page = await open();
  await page.click('Edit Nordics');
  await page.choose('Method of Nordics', 'lightest-load');
  await page.choose('When nobody is free, Nordics', 'elsewhere');
  page.find('rv-route-choice input[type=checkbox]').click();
  await page.saved();
  const sent = routesSent(page.sent('/api/drafts/2', 'PUT').body);
  expect(sent.find(({ key }) => (key as string) === 'north')).toMatchObject({
    method: 'lightest-load',
    nobodyFree: { kind: 'elsewhere', to: { kind: 'queue', queue: 'projects' } },
  });
});

test('a draft with problems says where', async () => {
  const page = await open(
    charterState({
      findings: [
        {
          code: 'unusable',
          severity: 'error',
          place: { path: '/lastResort', words: 'Last resort' },
          message: 'no such queue: moon',
        },
      ],
    }),
  );
  expect(page.text).toContain('The draft can’t be enacted yet. Last resort: no such queue: moon');
});

test('of two streams the lower one is moved up, and the draft is saved so', async () => {
  const [stream] = CHARTER.streams;
  const care = { ...stream!, key: 'care', name: 'Care', routes: [] };
  const page = await open(charterState({ charter: { ...CHARTER, streams: [stream!, care] } }));
  await page.click('Move stream Care up');
  await page.saved();
  const { streams } = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter;
  expect(streams.map(({ key }) => key)).toEqual(['care', stream!.key]);
});

test('streams that run by the clock: when next, what a run would do, and a run that can be stopped', async () => {
  const page = await open(charterState(null));
  await page.passes(1);
  const stream = { stream: 'main', name: 'Qualified leads', next: Date.UTC(2026, 11, 1, 1) };
  const last = { id: 4, stream: 'main', by: 'Runa', startedAt: Date.now() - 3_600_000, endedAt: Date.now() };
  const ended = { ...last, state: 'done' as const, leads: 9, done: 9, given: 7, failed: 1 };
  await page.answer('/api/streams/scheduled', [{ ...stream, last: ended }]);
  const run = () => wordsOf(page.element.querySelector('.stream-run')!);
  expect(run()).toContain('last run 1 hour ago, by Runa : 7 of 9 leads given away , 1 failed');
  await page.click('Run Qualified leads now');
  await page.answer('/api/streams/main/run-preview', {
    ...{ leads: 700, shown: 500 },
    places: [{ place: { kind: 'owner', rep: 'ada' }, leads: 500 }],
  });
  await page.answer('/api/streams/scheduled', [{ ...stream, last: ended }]);
  expect(run()).toContain('700 leads would go through it ; the first 500 : Ada Lindqvist 500');
  await page.click('Run it');
  const running = { ...ended, state: 'running' as const, endedAt: null, leads: 700, done: 50, given: 50, failed: 0 };
  await page.sent('/api/streams/main/run', 'POST').answer(running);
  await page.answer('/api/streams/scheduled', [{ ...stream, last: running }]);
  expect(run()).toContain('begun by Runa: 50 of 700 leads');
  await page.click('Stop the run of Qualified leads');
  await page.sent('/api/stream-runs/4/stop', 'POST').answer({ ...running, state: 'stopped' });
  await page.answer('/api/streams/scheduled', [{ ...stream, last: { ...running, state: 'stopped' } }]);
  expect(run()).toContain(', stopped : 50 of 700 leads given away');
});
