import { after, lead, NOW, route, smallCharter, smallWorld, stage, standing } from '../charter/charter.fixture';
import { changesAt } from './changes-at';
import { decide } from './decide';
import { Rates } from '../record/money';
import type { Condition } from '../condition/condition';
import type { Place } from '../record/place';

const world = smallWorld((document) => {
  (document.fields as object[]).push({ key: 'trial_ends', name: 'Trial ends', type: 'date' });
});
const AROUND = { rates: new Rates([], 'EUR'), kinds: world.kinds, teams: world.teams };
/** Nine days before until the day itself. */
const ending: Condition = {
  test: 'range',
  subject: { kind: 'days-since', day: { kind: 'field', field: 'trial_ends' } },
  from: { at: '-9', included: true },
  to: { at: '0', included: true },
};

const withGate = (when: Condition) =>
  smallCharter(world, (json) =>
    Object.assign(json, { gates: [{ key: 'trial', name: 'Trial ends', from: 'new', to: 'qualified', when }] }),
  );

test('a date test of a gate acts by itself, at the start of its day in the charter’s zone', () => {
  const charter = withGate(ending);
  const record = lead(world, { email: 'x@firm.example', trial_ends: '2026-03-20' });
  const first = decide(charter, record, world, 'created', NOW);
  expect(first.stage).toBe('new');
  const at = changesAt(charter, record, first, AROUND, NOW);
  // Nine days before the 20th of March, in Oslo's winter time.
  expect(new Date(at).toISOString()).toBe('2026-03-10T23:00:00.000Z');

  const stored = standing(record, { stage: first.stage, place: first.place, looks: new Map(first.gates.looks) });
  expect(decide(charter, stored, world, 'time', at - 1).stage).toBe('new');
  const later = decide(charter, stored, world, 'time', at);
  expect(later.stage).toBe('qualified');
  // In its new stage no gate asks for the day.
  expect(changesAt(charter, stored, later, AROUND, at)).toBeGreaterThan(at + 3000 * 86_400_000);
});

test('days in the stage, and a window that something leaves, act by themselves', () => {
  const record = lead(world, { email: 'x@firm.example' }, { activities: [{ kind: 'mail_clicked', at: NOW - 1000 }] });
  const end = (at: string) => ({ at, included: true });
  const stays = withGate({ test: 'range', subject: { kind: 'days-in-stage' }, from: end('28'), to: null });
  const first = decide(stays, record, world, 'created', NOW);
  const at = changesAt(stays, record, first, AROUND, NOW);
  // At ten o'clock in Oslo again: on the 29th of March the clock has gone forward.
  expect(new Date(at).toISOString()).toBe('2026-03-30T08:00:00.000Z');
  const stored = after(record, first);
  expect(decide(stays, stored, world, 'time', at - 1).stage).toBe('new');
  expect(decide(stays, stored, world, 'time', at).stage).toBe('qualified');

  const happened = { kind: 'happened', activity: 'mail_clicked', having: [], within: 30 } as const;
  const fades = withGate({ test: 'range', subject: happened, from: null, to: end('0') });
  const clicked = decide(fades, record, world, 'created', NOW);
  expect(clicked.stage).toBe('new');
  // The score fades before.
  const leaves = NOW - 1000 + 30 * 86_400_000;
  expect(decide(fades, after(record, clicked), world, 'time', leaves - 1).stage).toBe('new');
  expect(decide(fades, after(record, clicked), world, 'time', leaves).stage).toBe('qualified');
  expect(
    changesAt(
      fades,
      after(record, clicked),
      decide(fades, after(record, clicked), world, 'time', leaves - 5000),
      AROUND,
      leaves - 5000,
    ),
  ).toBe(leaves);
});

test('what gates of other stages ask is not waited for, nor what changes no answer', () => {
  const charter = withGate({ test: 'any', of: [{ test: 'all', of: [] }, ending] });
  const record = lead(world, { email: 'x@firm.example', trial_ends: '2026-03-20' });
  const first = decide(charter, record, world, 'enacted', NOW);
  expect(changesAt(charter, record, first, AROUND, NOW)).toBeGreaterThan(NOW + 3000 * 86_400_000);
});

test('while it waits in the bay, the day of its stream’s entry condition is waited for too', () => {
  const charter = smallCharter(world, (json) => Object.assign(json.streams[0] as object, { when: ending }));
  const record = lead(world, { email: 'x@firm.example', trial_ends: '2026-03-20' }, { stage: stage('qualified') });
  const decided = decide(charter, record, world, 'edited', NOW);
  const waiting: Place = { kind: 'bay', reason: { why: 'nobody-free', route: route('large'), rep: null, team: null } };
  const at = changesAt(charter, record, { ...decided, place: waiting }, AROUND, NOW);
  expect(new Date(at).toISOString()).toBe('2026-03-10T23:00:00.000Z');
  expect(changesAt(charter, record, decided, AROUND, NOW)).toBeGreaterThan(at);
});
