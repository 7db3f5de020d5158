import { smallWorld } from '../charter/charter.fixture';
import { isOff } from './off';
import type { Rep } from './people';

const world = smallWorld();
const ada = (change: Partial<Rep>): Rep => ({ ...([...world.reps.values()][0] as Rep), ...change });
const at = Date.parse('2026-03-02T23:30:00Z');

test('off is who is away, or on a whole day off by their own clock; hours, weekends and part of a day are not', () => {
  const off = (from: string, to: string, hours: { from: string; to: string } | null = null) => [{ from, to, hours }];
  const oslo = { timeZone: 'Europe/Oslo', weekly: [] };
  const cases: readonly (readonly [Partial<Rep>, boolean])[] = [
    [{}, false],
    [{ away: true }, true],
    // In Oslo it is the third already.
    [{ hours: oslo, daysOff: off('2026-03-02', '2026-03-02') }, false],
    [{ hours: oslo, daysOff: off('2026-03-03', '2026-03-09') }, true],
    [{ daysOff: off('2026-02-27', '2026-03-02') }, true],
    [{ daysOff: off('2026-03-02', '2026-03-02', { from: '08:00', to: '24:00' }) }, false],
    // Without working hours at all.
    [{ hours: oslo }, false],
  ];
  for (const [change, is] of cases) expect(isOff(ada(change), world, at)).toBe(is);
});
