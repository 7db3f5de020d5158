import { smallWorld } from '../charter/charter.fixture';
import type { RepKey, TeamKey } from '../record/keys';
import { hoursOf } from './calendars';
import { type Demand, exclusionOf } from './eligible';
import { membersOfTeam } from './members';
import type { Rota } from './people';

const OFFICE = { timeZone: 'Europe/Oslo', weekly: [{ day: 1, from: '08:00', to: '16:00' }] };
const MONDAY_NOON = Date.parse('2026-03-02T12:00+01:00');
const NEXT_MONDAY = Date.parse('2026-03-09T08:00+01:00');
const ALL = { hours: true, limit: true };

/** Why Ada can't be given a lead, after a change to the world. */
function whyNot(
  change: Parameters<typeof smallWorld>[0],
  demand: Partial<Demand> = {},
  open = 0,
  seen: Pick<Rota, 'seen'> = {},
) {
  const people = smallWorld(change);
  const loads = new Map([['ada' as RepKey, open]]);
  return exclusionOf(
    people.reps.get('ada' as RepKey),
    people,
    { loads, ...seen },
    {
      ...{ at: MONDAY_NOON, respects: ALL, skills: [] },
      ...demand,
    },
  );
}
const ada =
  (rest: object): Parameters<typeof smallWorld>[0] =>
  ({ reps }) =>
    Object.assign(reps[0]!, rest);

test('each reason by itself, in the order in which they are asked', () => {
  expect(whyNot(ada({}))).toBeNull();
  expect(whyNot(ada({ mayTakeLeads: false, away: true }))).toEqual({ why: 'may-not-take-leads' });
  expect(whyNot(ada({ away: true, hours: OFFICE }))).toEqual({ why: 'away' });
  expect(whyNot(ada({ hours: OFFICE }))).toBeNull();
  expect(whyNot(ada({ hours: OFFICE }), { at: MONDAY_NOON + 4 * 3_600_000 }, 2)).toEqual({
    why: 'outside-hours',
    next: NEXT_MONDAY,
  });
  expect(whyNot(ada({ hours: OFFICE }), {}, 2)).toEqual({ why: 'at-limit', open: 2, limit: 2 });
});

test('holidays of a place and days off, whole or part, are outside hours; a zone that changes moves the hours', () => {
  const off = { from: '2026-03-02', to: '2026-03-02', hours: null };
  expect(whyNot(ada({ hours: OFFICE, daysOff: [off] }))?.why).toBe('outside-hours');
  expect(whyNot(ada({ hours: OFFICE, daysOff: [{ ...off, hours: { from: '08:00', to: '12:00' } }] }))).toBeNull();
  const holiday: Parameters<typeof smallWorld>[0] = (document) => {
    Object.assign(document, { holidays: [{ place: 'NO', days: ['2026-03-02'] }] });
    Object.assign(document.reps[0]!, { hours: OFFICE, holidaysOf: 'NO' });
  };
  expect(whyNot(holiday)).toEqual({ why: 'outside-hours', next: NEXT_MONDAY });
  expect(whyNot(ada({ hours: { ...OFFICE, timeZone: 'America/New_York' } }))?.why).toBe('outside-hours');
});

test('limits and hours count where they are respected; the limit 0 always does, and who is above a lowered limit gets none', () => {
  const lenient = { respects: { hours: false, limit: false } };
  expect(whyNot(ada({ hours: OFFICE }), { ...lenient, at: NEXT_MONDAY - 1 }, 9)).toBeNull();
  expect(whyNot(ada({ limit: 0 }), lenient)).toEqual({ why: 'at-limit', open: 0, limit: 0 });
  expect(whyNot(ada({ limit: 1 }), {}, 2)).toEqual({ why: 'at-limit', open: 2, limit: 1 });
});

test('skills: any of the words asked, folded; nobody has what is not in their skills', () => {
  const speaks: Parameters<typeof smallWorld>[0] = (document) => {
    Object.assign(document, { skills: [{ key: 'language', name: 'Languages', words: ['English', 'Türkçe'] }] });
    Object.assign(document.reps[0]!, { skills: [{ skill: 'language', has: ['Türkçe'] }] });
  };
  const asks = (...words: string[]) => ({ skills: [{ skill: 'language', words }] });
  expect(whyNot(speaks, asks('english', 'türkçe'))).toBeNull();
  expect(whyNot(speaks, asks('english'))).toEqual({ why: 'lacks-skill', skill: 'language', asked: ['english'] });
  expect(whyNot(ada({}), asks('english'))?.why).toBe('lacks-skill');
});

test('hours are one’s own, else those of the first team that has any, else any hour', () => {
  const world = smallWorld((document) => {
    Object.assign(document.teams[0]!, { hours: OFFICE });
    Object.assign(document.reps[1]!, { hours: { timeZone: 'UTC', weekly: null } });
  });
  const hours = (rep: string) => hoursOf(world.reps.get(rep as RepKey)!, world);
  expect([hours('ada'), hours('bo')]).toEqual([OFFICE, { timeZone: 'UTC', weekly: null }]);
  expect(hoursOf(smallWorld().reps.get('ada' as RepKey)!, smallWorld())).toBeNull();
});

test('a team with those inside it: each person once, in the order of teams; paused are those who are in it through paused teams only', () => {
  const world = smallWorld((document) => {
    Object.assign(document, {
      teams: [
        { key: 'all', name: 'All', members: ['bo'] },
        { key: 'north', name: 'North', members: ['ada', 'bo'], parent: 'all', paused: true },
        { key: 'fjord', name: 'Fjord', members: ['cai', 'ada'], parent: 'north' },
      ],
    });
  });
  const of = (team: string, inside: boolean) => {
    const { reps, paused } = membersOfTeam(team as TeamKey, inside, world);
    return [reps.join(' '), [...paused.keys()].join(' ')];
  };
  expect(of('all', false)).toEqual(['bo', '']);
  expect(of('all', true)).toEqual(['bo ada cai', '']);
  expect(of('north', false)).toEqual(['ada bo', 'ada bo']);
  expect(of('north', true)).toEqual(['ada bo cai', 'bo']);
  expect(of('gone', true)).toEqual(['', '']);
});

test('present is who was seen in the last ten minutes; where that is not known, who works at that hour', () => {
  const at = MONDAY_NOON;
  const present = { at, respects: { ...ALL, hours: false, presence: true } };
  const seenAt = (last: number | null) => ({
    seen: new Map(last === null ? [] : [['ada' as RepKey, last] as const]),
  });
  expect(whyNot(ada({}), present, 0, seenAt(at - 599_999))).toBeNull();
  expect(whyNot(ada({}), present, 0, seenAt(at - 600_000))).toEqual({ why: 'not-present', seen: at - 600_000 });
  expect(whyNot(ada({}), present, 0, seenAt(null))).toEqual({ why: 'not-present', seen: null });
  expect(whyNot(ada({}), { ...present, respects: ALL }, 0, seenAt(null))).toBeNull();
  expect(whyNot(ada({ away: true }), present, 0, seenAt(at))).toEqual({ why: 'away' });
  expect(whyNot(ada({ hours: OFFICE }), { ...present, at: NEXT_MONDAY - 1 }, 0, seenAt(NEXT_MONDAY - 2))).toBeNull();
  expect(whyNot(ada({ hours: OFFICE }), { ...present, at: NEXT_MONDAY - 1 })?.why).toBe('outside-hours');
  expect(whyNot(ada({ hours: OFFICE }), present)).toBeNull();
});
