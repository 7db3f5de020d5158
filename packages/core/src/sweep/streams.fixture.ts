import fc from 'fast-check';
import type { Condition } from '../condition/condition';
import { METHODS } from '../method/method';
import { AGAIN_WHEN } from '../route/again';
import { inRoutes, mixed, on, option, STAGES } from './charter-conditions.fixture';

const destination = fc.constantFrom(
  { kind: 'rep', rep: 'ada' },
  { kind: 'rep', rep: 'bo' },
  { kind: 'reps', reps: ['eli', 'ada', 'dee'] },
  { kind: 'team', team: 'north' },
  { kind: 'team', team: 'south' },
  { kind: 'team', team: 'north', inside: true },
  { kind: 'queue', queue: 'projects' },
  { kind: 'nobody', reason: 'a competitor' },
);
const HANDED_ON = { kind: 'handed-on', team: 'north', queue: 'projects', minutes: 60 };
const OWNER = { arbitrary: fc.constant({ kind: 'company-owner' }), weight: 1 };
const nobodyFree = fc.oneof(
  fc.constantFrom({ kind: 'wait' }, { kind: 'next-route' }, { kind: 'next-route' }, { kind: 'ignore-limits' }),
  destination.map((to) => ({ kind: 'elsewhere', to })),
);
const skills = fc.subarray([
  { skill: 'trades', field: 'trade' },
  { skill: 'trades', field: 'likes' },
]);
const route = fc
  .record(
    {
      ...{
        on,
        when: mixed(inRoutes),
        to: fc.oneof({ arbitrary: destination, weight: 10 }, OWNER, { arbitrary: fc.constant(HANDED_ON), weight: 1 }),
        skills,
      },
      method: fc.constantFrom(...METHODS),
      respects: fc.record({ hours: fc.boolean(), limit: fc.boolean(), presence: fc.constantFrom(false, false, true) }),
      nobodyFree: option(nobodyFree),
    },
    { requiredKeys: ['on', 'when', 'to'] },
  )
  .map((one) => (one.skills !== undefined && one.skills.length > 1 ? { ...one, to: { kind: 'skilled' } } : one));
/** Any stream, its routes without keys and names. */
export const stream: fc.Arbitrary<{ readonly routes: readonly object[] }> = fc.record({
  on,
  entering: fc.subarray(STAGES, { minLength: 1 }),
  when: fc.oneof(fc.constant<Condition>({ test: 'all', of: [] }), mixed(inRoutes)),
  ...{
    accept: fc.boolean(),
    nobodyFree,
    routes: fc.array(route, { maxLength: 5 }),
    again: fc.subarray([...AGAIN_WHEN]),
  },
  ...{
    schedule: fc.constant({ kind: 'daily', at: '02:00' }),
    onlyOnSchedule: fc.constantFrom(...Array.from({ length: 9 }, () => false), true),
  },
});
