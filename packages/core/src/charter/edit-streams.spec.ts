import type { RouteKey } from '../record/keys';
import { namesFrom, NO_NAMES } from '../wording/names';
import type { Charter } from './charter';
import { SMALL_CHARTER } from './charter.fixture';
import { changesBetween } from './changes-between';
import {
  addRoute,
  addStream,
  changeRoutes,
  changeStream,
  copyRoute,
  moveRoute,
  moveStream,
  takeOutStream,
} from './edit-streams';
import { readBack } from './read-back.fixture';
import { readCharter } from './read-charter';

const reading = readCharter(SMALL_CHARTER);
const SMALL = (reading.ok ? reading.charter : null) as Charter;
const NO_WORDS = { names: namesFrom(NO_NAMES), fields: new Map(), baseCurrency: 'EUR' };
const key = (text: string) => text as RouteKey;
const routes = (charter: Charter, at = 0) =>
  charter.streams[at]!.routes.map((route) => `${route.key}${route.on ? '' : ' off'}`);

test('a stream is added below, changed, moved among the others and taken out with its routes', () => {
  const two = readBack(addRoute(addStream(SMALL, 'care', 'Care'), 'care', key('first'), 'First'));
  expect(two.streams.map((one) => one.key)).toEqual(['main', 'care']);
  expect(two.streams[1]!.entering).toEqual(SMALL.streams[0]!.entering);
  const above = readBack(moveStream(two, 'care', -1));
  expect(above.streams.map((one) => one.key)).toEqual(['care', 'main']);
  expect(changesBetween(two, above, NO_WORDS)).toContainEqual({
    ...{ what: 'Order of streams', from: 'Qualified leads, Care', to: 'Care, Qualified leads' },
  });
  expect(moveStream(above, 'main', -1)).toEqual(two);
  expect(moveStream(above, 'care', -1)).toEqual(above);
  expect(moveStream(above, 'main', 1)).toEqual(above);
  expect(moveStream(above, 'unknown', 1)).toEqual(above);
  expect(readBack(changeStream(two, 'care', { on: false })).streams.map(({ on }) => on)).toEqual([true, false]);
  expect(takeOutStream(above, 'care')).toEqual(SMALL);
});

test('the first stream acts on entering the stage into which leads come', () => {
  const none = { ...SMALL, streams: [] };
  expect(readBack(addStream(none, 'all', 'All')).streams[0]).toMatchObject({ entering: ['new'], routes: [] });
});

test('a route is added last and matches nothing, copied right below and off, and moved', () => {
  const added = readBack(addRoute(SMALL, 'main', key('new'), 'New'));
  expect(routes(added)).toEqual(['large', 'north', 'centre', 'new']);
  expect(added.streams[0]!.routes[3]).toMatchObject({
    ...{ when: { test: 'any', of: [] }, to: { kind: 'queue', queue: SMALL.lastResort.lead } },
  });
  const copied = readBack(copyRoute(added, 'main', key('north'), key('north-2')));
  expect(routes(copied)).toEqual(['large', 'north', 'north-2 off', 'centre', 'new']);
  expect(routes(moveRoute(copied, 'main', 4, 0))).toEqual(['new', 'large', 'north', 'north-2 off', 'centre']);
  expect(routes(moveRoute(copied, 'main', 0, 3))).toEqual(['north', 'north-2 off', 'centre', 'large', 'new']);
  expect(moveRoute(copied, 'main', 0, 5)).toEqual(copied);
  expect(moveRoute(copied, 'main', -1, 0)).toEqual(copied);
  expect(changeRoutes(SMALL, 'unknown', () => [])).toEqual(SMALL);
});
