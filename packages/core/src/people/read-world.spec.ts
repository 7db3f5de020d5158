import { SMALL_WORLD, smallWorld } from '../charter/charter.fixture';
import { readWorld, withRota, type WorldDocument } from './read-world';
import type { RepKey, RouteKey, TeamKey } from '../record/keys';
import { turnsByHand } from '../route/by-hand';
import { elsewhereTurns } from '../route/carry-out';

test('a world read, moved on and written is read back with its loads and turns, the rest unchanged', () => {
  const world = smallWorld();
  world.rota.loads.set('bo' as RepKey, 3);
  world.rota.loads.set('ada' as RepKey, 1);
  // Of a route, of where it leads when nobody is free, and of a team to which people give by hand.
  for (const turns of ['north', elsewhereTurns('north' as RouteKey), turnsByHand('north' as TeamKey)])
    world.rota.turns.set(turns as RouteKey, { lastServed: 'bo' as RepKey, order: ['ada', 'bo'] as RepKey[] });
  const document = withRota(SMALL_WORLD as unknown as WorldDocument, world.rota);
  expect(document).toMatchObject(SMALL_WORLD);
  expect(document.loads).toEqual([
    { rep: 'ada', open: 1 },
    { rep: 'bo', open: 3 },
  ]);
  const again = readWorld(JSON.parse(JSON.stringify(document)));
  expect(again.ok && new Map(again.world.rota.turns)).toEqual(world.rota.turns);
  expect(again.ok && again.world.rates.on('NOK', '2026-05-01')).toBe(85_000);
});

test.each([null, [], 'world', { format: 'relvik-charter' }])('%j is no world', (json) => {
  expect(readWorld(json).ok).toBe(false);
});

test('two of the same key are said at the second', () => {
  const reading = readWorld({ ...SMALL_WORLD, reps: [...SMALL_WORLD.reps, SMALL_WORLD.reps[0]] });
  expect(reading.ok ? [] : reading.problems).toEqual([{ path: '/reps/3/key', message: 'stands twice: ada' }]);
});
