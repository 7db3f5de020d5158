import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import { advance, appraise, decide } from '../decide/decide';
import type { Decision } from '../decide/decision';
import { settle } from '../decide/settle';
import { calendarOf } from '../people/calendars';
import { emptyRota } from '../people/people';
import type { Instant } from '../record/keys';
import type { Occasion } from '../record/occasion';
import { after, standing } from '../charter/charter.fixture';
import type { MovingRecord } from '../record/record';
import type { Place } from '../record/place';
import { FIELDS } from '../condition/conditions.fixture';
import { allBits } from '../column/bits';
import { type PopulationRecord } from './encode';
import { PLACES, type Placed } from './placed';
import { placeOnEnact, replay } from './replay';
import { Resident } from './resident';
import { asNew, records, populationOf } from './rows.fixture';
import { AS_OF, busyCharter, RATES, WORLD } from './sweep.fixture';
import { Sweep } from './sweep';
import type { World } from '../people/world';

const DAY = 86_400_000;

/** Limits so small that most have to wait. */
const world = (): World => {
  const reps = [...WORLD.reps].map(([key, rep]) => [key, key === 'bo' ? { ...rep, limit: 3 } : rep] as const);
  return { ...WORLD, reps: new Map(reps), fields: FIELDS, rota: emptyRota() };
};

/** A decision at another hour than that of its scores, as *as if all came in* has it. */
const decideAt = (
  ready: ReadyCharter,
  record: MovingRecord,
  people: World,
  occasion: Occasion,
  at: Instant,
): Decision => settle(ready, record, { ...appraise(ready, record, people, occasion, AS_OF), asOf: at }, people);
const resident = (list: readonly PopulationRecord[], { charter }: ReadyCharter): Resident =>
  new Resident(populationOf(list), AS_OF, charter, { kinds: KINDS, rates: RATES, teams: WORLD.teams });

const shown = (placed: Placed, i: number): string => {
  const kind = PLACES[placed.places[i]!]!;
  const owner = placed.reps[placed.owner[i]! - 1];
  const queue = placed.queues[placed.queue[i]! - 1];
  return [kind, kind === 'owner' ? owner : kind === 'queue' ? queue : undefined].filter(Boolean).join(' ');
};
const words = (place: Place): string =>
  place.kind === 'owner' ? `owner ${place.rep}` : place.kind === 'queue' ? `queue ${place.queue}` : place.kind;

test('owners by replay are those that decide gives, called for each arrival and each freed place in order', () => {
  let [waited, offHours, unskilled] = [0, 0, 0];
  const begins = [...WORLD.reps.values()].flatMap((rep) =>
    calendarOf(rep, WORLD)
      .stretches(AS_OF - 91 * DAY, AS_OF + 40 * DAY)
      .map(({ from }) => from),
  );
  fc.assert(
    fc.property(busyCharter, records, (ready, list) => {
      const here = resident(list, ready);
      const placed = replay(new Sweep(here, { kind: 'came-in' }).run(ready), here, world());

      const people = world();
      const live = new Map<number, MovingRecord>();
      const bay: number[] = [];
      const occur = (i: number, record: MovingRecord, occasion: 'created' | 'freed', at: Instant): void => {
        const decision = decideAt(ready, record, people, occasion, at);
        advance(people.rota, decision);
        live.set(i, after(record, decision));
        if (decision.place.kind === 'bay') {
          if (occasion === 'created') bay.push(i);
          if (decision.place.reason.why === 'nobody-free') waited += 1;
          if (decision.skipped.some(({ exclusion }) => exclusion.why === 'outside-hours')) offHours += 1;
          if (decision.skipped.some(({ exclusion }) => exclusion.why === 'lacks-skill')) unskilled += 1;
        } else if (occasion === 'freed') bay.splice(bay.indexOf(i), 1);
      };
      const events = list.flatMap(({ record, closed }, i) => [
        { at: record.arrived, i, closes: false },
        ...(closed === null ? [] : [{ at: closed, i, closes: true }]),
      ]);
      // When anyone's hours begin, all that wait are tried again.
      const end = Math.max(AS_OF, ...events.map(({ at }) => at));
      for (const at of begins) if (at <= end) events.push({ at, i: -1, closes: false });
      events.sort((a, b) => a.at - b.at || a.i - b.i || Number(a.closes) - Number(b.closes));
      const look = (at: Instant): void => {
        for (const waiting of [...bay]) occur(waiting, live.get(waiting)!, 'freed', at);
      };
      for (const { i, closes, at } of events) {
        if (i < 0) {
          look(at);
          continue;
        }
        const stored = list[i]!.record;
        if (!closes) {
          occur(i, asNew(stored), 'created', at);
          continue;
        }
        const record = live.get(i)!;
        const { place, status } = record.standing;
        if (place?.kind === 'bay') {
          bay.splice(bay.indexOf(i), 1);
          live.set(i, standing(record, { status: 'won', place: { kind: 'not-handed-over', verdict: null } }));
        }
        if (place?.kind !== 'owner' || status !== 'open') continue;
        live.set(i, standing(record, { status: 'won' }));
        advance(people.rota, { turn: null, asOf: at, loads: [{ rep: place.rep, by: -1 }] });
        look(at);
      }
      list.forEach((_, i) => expect([i, shown(placed, i)]).toEqual([i, words(live.get(i)!.standing.place!)]));
      for (const rep of people.reps.keys())
        expect([rep, placed.rota.loads.get(rep) ?? 0]).toEqual([rep, people.rota.loads.get(rep) ?? 0]);
      for (const [route, turn] of people.rota.turns) expect(placed.rota.turns.get(route)).toEqual(turn);
    }),
    { numRuns: 100, endOnFailure: true },
  );
  for (const seen of [waited, offHours, unskilled]) expect(seen).toBeGreaterThan(300);
});

test.each([
  ['score', 'enacted'],
  ['gates', 'regated'],
  ['routes', 'rerouted'],
] as const)('places on enact, as far as %s, are those that decide gives when %s', (reach, occasion) => {
  fc.assert(
    fc.property(busyCharter, records, (ready, list) => {
      const here = resident(list, ready);
      const people = world();
      for (const { record } of list) {
        const { status, place } = record.standing;
        if (status === 'open' && place?.kind === 'owner')
          advance(people.rota, { turn: null, asOf: AS_OF, loads: [{ rep: place.rep, by: 1 }] });
      }
      const swept = new Sweep(here, { kind: 'on-enact', reach }).run(ready);
      const placed = placeOnEnact(swept, here.population, people, people.rota, allBits(list.length), reach, AS_OF);
      list.forEach(({ record }, i) => {
        const decision = decide(ready, record, people, occasion, AS_OF);
        advance(people.rota, decision);
        expect([i, shown(placed, i)]).toEqual([i, words(decision.place)]);
        expect(appraise(ready, record, people, occasion, AS_OF).status === 'open').toBe(decision.status === 'open');
      });
      for (const rep of people.reps.keys())
        expect([rep, placed.rota.loads.get(rep) ?? 0]).toEqual([rep, people.rota.loads.get(rep) ?? 0]);
    }),
    { numRuns: 60 },
  );
});
