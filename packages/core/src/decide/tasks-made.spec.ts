import fc from 'fast-check';
import { clicks, lead, NOW, owned, rep, smallCharter, smallWorld, stage } from '../charter/charter.fixture';
import { dueAt } from '../task/task';
import { decide } from './decide';

const GOOD = { industry: 'Brewery', country: 'NO', email: 'kari@bryggeri.example' };
const OFFICE = {
  timeZone: 'Europe/Berlin',
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' })),
};
const at = (text: string): number => Date.parse(text);
const officeWorld = () =>
  smallWorld((document) => {
    Object.assign(document.reps[0]!, { hours: OFFICE });
  });
const CALL = { title: 'Ring back', work: 'call', minutes: 240, working: true } as const;

function setting(world = officeWorld()) {
  const charter = smallCharter(world, ({ gates, streams }) => {
    Object.assign(gates[0]!, { effects: [{ kind: 'task', ...CALL }] });
    Object.assign(streams[0]!.routes[1]!, { tasks: [{ ...CALL, title: 'Say hello', minutes: 30, working: false }] });
  });
  return { world, charter };
}

test('four working hours from Friday 15:20 are over on Monday at 11:20, over the change of the clock', () => {
  const world = officeWorld();
  const friday = at('2026-03-27T15:20+01:00');
  expect(dueAt(CALL, friday, rep('ada'), world)).toBe(at('2026-03-30T11:20+02:00'));
  expect(dueAt({ ...CALL, working: false }, friday, rep('ada'), world)).toBe(at('2026-03-27T19:20+01:00'));
  // Without an owner nobody's hours are known, and Bo works at any hour.
  for (const owner of [null, rep('bo'), rep('gone')])
    expect(dueAt(CALL, friday, owner, world)).toBe(at('2026-03-27T19:20+01:00'));
});

test('a longer time is never due earlier, and working time never before the same time of the clock', () => {
  const world = officeWorld();
  const minutes = fc.integer({ min: 0, max: 20_000 });
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 600_000 }), minutes, minutes, (after, one, other) => {
      const made = at('2026-01-01T00:00Z') + after * 60_000;
      const due = (count: number, working = true): number =>
        dueAt({ minutes: count, working }, made, rep('ada'), world);
      const [less, more] = one < other ? [one, other] : [other, one];
      expect(due(less)).toBeLessThanOrEqual(due(more));
      expect(due(one)).toBeGreaterThanOrEqual(due(one, false));
    }),
  );
});

test('a gate makes its tasks for who gets the lead on the same occasion, then the route makes its own', () => {
  const { world, charter } = setting();
  const friday = at('2026-03-27T15:20+01:00');
  const decision = decide(
    charter,
    lead(world, GOOD, { activities: clicks(5), arrived: friday }),
    world,
    'created',
    friday,
  );
  expect(decision.place).toEqual(owned('ada'));
  expect(decision.tasks).toEqual([
    { title: 'Ring back', work: 'call', due: at('2026-03-30T11:20+02:00'), owner: 'ada', rule: 'qualify' },
    { title: 'Say hello', work: 'call', due: at('2026-03-27T15:50+01:00'), owner: 'ada', rule: 'north' },
  ]);
});

test('no task without a move: of a lead that stays, one that is only scored, one that goes to another stage than the gate’s own', () => {
  const { world, charter } = setting();
  const stays = lead(world, GOOD, {
    activities: clicks(5),
    stage: stage('qualified'),
    place: owned('bo'),
  });
  expect(decide(charter, stays, world, 'edited', NOW).tasks).toBeUndefined();
  const arrives = lead(world, GOOD, { activities: clicks(5), stage: stage('new'), place: owned('bo') });
  const qualified = decide(charter, arrives, world, 'edited', NOW);
  // A right owner keeps it: the gate's task is theirs, and no route gave it to anyone.
  expect(qualified.tasks).toMatchObject([{ owner: 'bo', rule: 'qualify' }]);
  const person = { kind: 'moves', gate: 'qualify', to: stage('out') } as const;
  expect(decide(charter, arrives, world, 'moved', NOW, person).tasks).toBeUndefined();
  expect(decide(charter, arrives, world, 'moved', NOW, { ...person, to: stage('qualified') }).tasks).toMatchObject([
    { rule: 'qualify' },
  ]);
  expect(decide(charter, arrives, world, 'enacted', NOW).tasks).toBeUndefined();
});
