import { hasBit } from '../column/bits';
import { copyRota, emptyRota, type Organisation, type Rota } from '../people/people';
import type { QueueKey, RepKey } from '../record/keys';
import type { Population } from './population';

/** Where a record is, by itself in `places`; who or which queue it is stands beside it. */
export const PLACES = ['not-handed-over', 'owner', 'queue', 'bay'] as const;
export const NOT_HANDED_OVER = 0;
export const WITH_OWNER = 1;
export const IN_QUEUE = 2;
export const IN_BAY = 3;

/** Where all records come to be. */
export interface Placed {
  readonly places: Uint8Array;
  /** By record, one more than the place of its owner in `reps` or of its queue in `queues`; 0: none. */
  readonly owner: Uint16Array;
  readonly queue: Uint16Array;
  readonly reps: readonly RepKey[];
  readonly queues: readonly QueueKey[];
  /** Turns and loads at the end. */
  readonly rota: Rota;
}

/** Nobody is handed over, and nobody carries anything. */
export function placesOfNone(size: number, { reps, queues }: Organisation): Placed {
  return {
    places: new Uint8Array(size),
    owner: new Uint16Array(size),
    queue: new Uint16Array(size),
    reps: [...reps.keys()],
    queues: [...queues.keys()],
    rota: emptyRota(),
  };
}

/** The places of all records as they are stored, with turns and loads as they are. */
export function placesStored({ size, standing }: Population, people: Organisation, rota: Rota): Placed {
  const placed = placesOfNone(size, people);
  const { reps, queues } = placed;
  const repCode = new Map<string, number>(reps.map((rep, r) => [rep, r + 1]));
  const queueCode = new Map<string, number>(queues.map((queue, q) => [queue, q + 1]));
  const keyOf = (code: number): string => standing.keys[code - 1] ?? '';
  for (let i = 0; i < size; i += 1) {
    const [owner, queue] = [standing.owner[i] as number, standing.queue[i] as number];
    if (owner !== 0) {
      placed.places[i] = WITH_OWNER;
      placed.owner[i] = repCode.get(keyOf(owner)) ?? 0;
    } else if (queue !== 0) {
      placed.places[i] = IN_QUEUE;
      placed.queue[i] = queueCode.get(keyOf(queue)) ?? 0;
    } else placed.places[i] = hasBit(standing.inBay, i) ? IN_BAY : NOT_HANDED_OVER;
  }
  return { ...placed, rota: copyRota(rota) };
}
