import { type Bits, hasBit } from '../column/bits';
import type { Organisation, Rota } from '../people/people';
import type { Instant, RepKey } from '../record/keys';
import { IN_BAY, NOT_HANDED_OVER, type Placed, placesOfNone, placesStored, WITH_OWNER } from './placed';
import { Placing } from './placing';
import type { Population } from './population';
import type { Resident } from './resident';
import { NOT_ROUTED } from './route-sweep';
import type { Reach, Swept } from './sweep';
import { WaitingLines } from './waiting-lines';

/**
 * Gives all records of a sweep read as *came in* their places, one after the other: arrivals and closings in the order of
 * time and ids, with no turns and no loads at the beginning, each at its own hour.
 *
 * The same as `decide` called in that order: when a closing frees someone, or someone's hours begin, those who wait are tried, the oldest first. Hours that
 * begin at the moment of an arrival come before it. A record that is closed while it waits leaves the bay for nobody.
 */
export function replay(swept: Swept, resident: Resident, people: Organisation): Placed {
  const { population } = resident;
  const placing = new Placing(swept, population, people, placesOfNone(population.size, people));
  const { places, owner, reps } = placing;
  const waiting = new WaitingLines(placing);

  resident.timeline().forEach((entry) => {
    const record = entry >>> 1;
    const closes = (entry & 1) === 1;
    const at = (closes ? population.closed : population.arrived)[record] as number;
    waiting.passTime(at);
    if (closes) {
      if (places[record] === IN_BAY) places[record] = NOT_HANDED_OVER;
      if (places[record] !== WITH_OWNER || !hasBit(swept.open, record)) return;
      const rep = reps[(owner[record] as number) - 1] as RepKey;
      placing.carry(rep, -1, at);
      waiting.tryFor(rep, at);
      return;
    }
    if (!hasBit(swept.open, record)) return;
    if (placing.isHeldUp(record)) places[record] = IN_BAY;
    else if (swept.outcome[record] !== NOT_ROUTED) waiting.arrive(record, at);
  });
  waiting.passTime(resident.asOf);
  return placing;
}

/**
 * Gives the chosen records of a sweep read *on enact* their places, in the order of ids, beginning with the turns and loads
 * as they are. The others stay where they are.
 *
 * The same as `decide` on the occasion that the reach stands for. Whom that frees in the bay follows a moment later.
 */
export function placeOnEnact(
  swept: Swept,
  population: Population,
  people: Organisation,
  rota: Rota,
  chosen: Bits,
  reach: Reach,
  asOf: Instant,
): Placed {
  const placing = new Placing(swept, population, people, placesStored(population, people, rota));
  const { standing } = population;
  for (let i = 0; i < population.size; i += 1) {
    const rep = standing.owner[i] === 0 ? null : (standing.keys[(standing.owner[i] as number) - 1] as RepKey);
    const queue = standing.queue[i] as number;
    if (!hasBit(chosen, i)) continue;

    const open = hasBit(swept.open, i);
    if (rep !== null) {
      if (!open && hasBit(standing.open, i)) placing.carry(rep, -1, asOf);
    } else if (!open) {
      placing.places[i] = NOT_HANDED_OVER;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED && queue !== 0) continue;
    else if (placing.isHeldUp(i)) {
      placing.places[i] = IN_BAY;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED) {
      if (reach === 'routes') placing.places[i] = NOT_HANDED_OVER;
    } else placing.place(i, asOf);
  }
  return placing;
}
