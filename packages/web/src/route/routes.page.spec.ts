import type { SaveDraft } from '@relvik/contracts';
import { charterState, CHARTER, PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { RoutesPage } from './routes.page';

async function open(state = charterState({})): Promise<PageTest<RoutesPage>> {
  const page = await PageTest.open(RoutesPage, {}, state);
  await page.answer('/api/people', PEOPLE);
  await page.answer('/api/rule-counts', {
    routes: { north: 12 },
    territories: {},
    gates: {},
    openGround: [],
    cells: [],
  });
  return page;
}

const routesSent = (body: unknown) => (body as SaveDraft).charter.streams[0]?.routes ?? [];

test('routes are read in order with condition, target and what they took; the last resort stands below', async () => {
  const page = await open(charterState(null));
  const rows = [...page.element.querySelectorAll('.route')].map(wordsOf);
  expect(rows.slice(1)).toEqual([
    '1 Large deals Deal value from 20,000 EUR Ada Lindqvist 0',
    '2 Nordics Territory is Nordics Team north 12',
    '3 D-A-CH Territory is D-A-CH Queue Projects 0',
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
  expect(page.text).toContain('1 Nordics moved');
  expect(page.text).toContain('2 Large deals moved');
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

test('a draft with problems says where', async () => {
  const page = await open(charterState({ problems: [{ path: '/lastResort', message: 'no such queue: moon' }] }));
  expect(page.text).toContain('The draft can’t be enacted yet. /lastResort no such queue: moon');
});
