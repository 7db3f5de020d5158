import { lead, NOW, smallCharter, smallWorld } from '../charter/charter.fixture';
import type { Decision } from './decision';
import { decideInTurn } from './decide-in-turn';

const placed = ({ place }: Decision): string => (place.kind === 'owner' ? place.rep : place.kind);

test('turns and loads move on from each to the next, with someone away or at another hour, and the world stays as it was', () => {
  const world = smallWorld(({ reps }) => {
    Object.assign(reps[1]!, { hours: { timeZone: 'UTC', weekly: [{ day: 1, from: '09:00', to: '10:00' }] } });
  });
  const ready = smallCharter(world, (charter) => {
    charter.gates[0]!.when = { test: 'all', of: [] } as never;
    charter.gates.length = 1;
    charter.scoreSets[0]!.grid.cells = charter.scoreSets[0]!.grid.cells.map((row) => row.map(() => 'hand-over'));
  });
  const five = Array.from({ length: 5 }, (_, i) => lead(world, { country: 'NO' }, { id: String(i + 1) }));
  // Monday 9:00: Ada’s limit is 2, Bo has none.
  expect(decideInTurn(ready, five, world, NOW).map(placed)).toEqual(['ada', 'bo', 'ada', 'bo', 'bo']);
  expect(decideInTurn(ready, five, world, NOW + 3_600_000).map(placed)).toEqual(['ada', 'ada', 'bay', 'bay', 'bay']);
  const away = { ...world, reps: new Map([...world.reps].map(([key, rep]) => [key, { ...rep, away: key === 'ada' }])) };
  expect(decideInTurn(ready, five, away, NOW).map(placed)).toEqual(['bo', 'bo', 'bo', 'bo', 'bo']);
  expect([world.rota.loads.size, world.rota.turns.size]).toEqual([0, 0]);
});
