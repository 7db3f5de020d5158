import { NOW, rep, smallCharter, smallWorld } from '../charter/charter.fixture';
import { nextInTurn } from './next-in-turn';

test('the next of each route that chooses among several, past those on leave, at whatever hour; by lot nobody is next', () => {
  const world = smallWorld();
  const { streams } = smallCharter(world).rules.lead;
  const next = (people = world) => [...nextInTurn(streams, people, world.rota, NOW)];
  expect(next()).toEqual([['north', 'ada']]);
  const change = (change: object) => ({
    ...world,
    reps: new Map([...world.reps].map(([key, one]) => [key, key === 'ada' ? { ...one, ...change } : one])),
  });
  const night = { timeZone: 'Europe/Oslo', weekly: [{ day: 7, from: '01:00', to: '02:00' }] };
  expect(next(change({ hours: night }))).toEqual([['north', 'ada']]);
  expect(next(change({ daysOff: [{ from: '2026-03-01', to: '2026-03-05', hours: null }] }))).toEqual([['north', 'bo']]);
  world.rota.loads.set(rep('ada'), 2);
  expect(next()).toEqual([['north', 'bo']]);
  const drawn = streams.map((stream) => ({
    ...stream,
    routes: stream.routes.map((route) => ({ ...route, method: 'random' as const })),
  }));
  expect(nextInTurn(drawn, world, world.rota, NOW).size).toBe(0);
});
