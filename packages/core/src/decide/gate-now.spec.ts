import { lead as leadOf, NOW, readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import { readCharter } from '../charter/read-charter';
import { stagesByHand } from '../gate/by-hand';
import { endsOf, lookKey } from '../gate/gate';
import type { StageKey } from '../record/keys';
import type { MovingRecord } from '../record/record';
import { decide } from './decide';
import { gateAlong, gatesNow } from './gate-now';

const says = (field: string, ...values: string[]) => ({
  test: 'one-of',
  subject: { kind: 'field', field },
  values,
});
const gate = (key: string, to: string, more: object) => ({
  key,
  name: key,
  from: 'new',
  to,
  when: says('country', 'NO'),
  ...more,
});
const ASKS = gate('which', 'qualified', {
  decider: {
    kind: 'asks',
    withoutOwner: { kind: 'team', team: 'north' },
    alternatives: [{ to: 'out', when: says('industry', 'Golf course') }],
  },
});
const charterWith = (...gates: object[]) => ({ ...SMALL_CHARTER, gates });
const WORLD = smallWorld();
const lead = (values: Record<string, string>, at: string | null = 'new'): MovingRecord =>
  leadOf(WORLD, values, { stage: at as StageKey | null, stageSince: NOW });

test('what the gates of a stage say now: whether each holds, which stage the rule picks, and what speaks for the others', () => {
  const ready = readyCharter(
    charterWith(ASKS, gate('off', 'out', { on: false }), gate('hand', 'out', { decider: { kind: 'person' } })),
    WORLD,
  );
  const [asks, hand, ...more] = gatesNow(ready, lead({ country: 'NO', industry: 'Golf course' }), WORLD, NOW);
  expect(more).toEqual([]);
  expect([asks?.account.answer, asks?.pick, asks?.outcomes.map(({ to, account }) => [to, account?.answer])]).toEqual([
    'yes',
    'out',
    [
      ['qualified', undefined],
      ['out', 'yes'],
    ],
  ]);
  expect(hand?.gate.key).toBe('hand');
  const now = gatesNow(ready, lead({ country: 'NO' }), WORLD, NOW);
  expect([gateAlong(now, 'out' as StageKey), gateAlong(now, 'new' as StageKey)]).toEqual(['which', null]);
  expect(gateAlong(gatesNow(ready, lead({ country: 'SE' }), WORLD, NOW), 'out' as StageKey)).toBeNull();
  expect(gatesNow(ready, lead({}, null), WORLD, NOW)).toEqual([]);
});

test('a decision says what is asked, and a person’s move comes before the gates', () => {
  const ready = readyCharter(charterWith(ASKS), WORLD);
  const asked = decide(ready, lead({ country: 'NO' }, null), WORLD, 'created', NOW);
  expect(asked).toMatchObject({ stage: 'new', gates: { moves: [], asks: [{ gate: 'which', pick: 'qualified' }] } });
  const move = { kind: 'moves', gate: null, to: 'out' as StageKey } as const;
  expect(decide(ready, lead({}), WORLD, 'moved', NOW, move)).toMatchObject({
    stage: 'out',
    status: 'disqualified',
    gates: { moves: [{ gate: null, from: 'new', to: 'out' }] },
  });
});

test('who decides is read with the gate; the look begins anew when that changes, not when another outcome is added', () => {
  const read = (one: object) => {
    const reading = readCharter(charterWith(one));
    if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
    return reading.charter.gates[0]!;
  };
  const [plain, asks] = [read(gate('which', 'qualified', {})), read(ASKS)];
  expect([plain.decider, endsOf(asks)]).toEqual([{ kind: 'rule' }, ['qualified', 'out']]);
  expect(lookKey(plain)).not.toBe(lookKey(asks));
  expect(lookKey(read({ ...ASKS, decider: { kind: 'asks' } }))).toBe(lookKey(asks));
});

test.each([
  [
    [{ to: 'qualified', when: says('country', 'NO') }],
    '/gates/0/decider/alternatives/0/to',
    'is proposed twice: qualified',
  ],
  [
    [{ to: 'new', when: says('country', 'NO') }],
    '/gates/0/decider/alternatives/0/to',
    'leads back to the stage it comes from',
  ],
  [[{ to: 'nowhere', when: says('country', 'NO') }], '/gates/0/decider/alternatives/0/to', 'no such stage: nowhere'],
])('outcomes %j are refused where they stand', (alternatives, path, message) => {
  const reading = readCharter(charterWith({ ...ASKS, decider: { kind: 'asks', alternatives } }));
  expect(reading).toMatchObject({ ok: false, problems: [{ path, message }] });
});

test('a team that is not there is named; a stage says where a hand may move on from it', () => {
  const withoutOwner = { kind: 'team', team: 'gone' };
  expect(() => readyCharter(charterWith({ ...ASKS, decider: { kind: 'asks', withoutOwner } }), WORLD)).toThrow(
    'no such team: gone',
  );
  const [leads, deals] = SMALL_CHARTER.pipelines;
  const drawn = (byHand: readonly string[] | null) => {
    const stages = leads!.stages.map((one) => (one.key === 'new' ? { ...one, byHand } : one));
    return readCharter({ ...SMALL_CHARTER, pipelines: [{ ...leads, stages }, deals] });
  };
  const allowed = (byHand: readonly string[] | null, from = 'new') => {
    const reading = drawn(byHand);
    return reading.ok
      ? stagesByHand(reading.charter, from).map(({ key }) => key)
      : reading.problems.map(({ message }) => message);
  };
  expect([allowed(null), allowed(['out']), allowed([])]).toEqual([['qualified'], ['out'], []]);
  // A deal is won and lost by hand.
  expect(allowed(null, 'deal-open')).toEqual(['deal-offer', 'deal-won', 'deal-lost']);
  expect(allowed(['deal-open'])).toEqual(['no such stage in this pipeline: deal-open']);
});
