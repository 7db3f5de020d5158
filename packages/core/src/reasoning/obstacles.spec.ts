import { lead, smallCharter, smallWorld, standing } from '../charter/charter.fixture';
import { appraise } from '../decide/decide';
import type { Look } from '../record/record';
import type { Raw } from '../record/value';
import { namesOf } from '../charter/charter-names';
import { obstaclesOf } from './obstacles';

const world = smallWorld();
const AS_OF = Date.parse('2026-03-02T09:00:00Z');

function why(
  raw: Record<string, Raw>,
  change: (gate: Record<string, unknown>) => unknown = () => undefined,
  looks: ReadonlyMap<string, Look> = new Map(),
): string[] {
  const ready = smallCharter(world, ({ gates }) => {
    change(gates[0] as unknown as Record<string, unknown>);
  });
  const wording = { names: namesOf(ready.charter, world), fields: world.fields, baseCurrency: 'EUR' };
  const record = standing(lead(world, raw), { stage: 'new' as never, looks });
  const { looked } = appraise(ready, record, world, 'edited', AS_OF).gates;
  return obstaclesOf(looked, 'new' as never, ready.charter.gates, wording).map(
    ({ gate, to, words }) => `${gate} → ${to}: ${words}`,
  );
}

const email = 'a@b.example';

test('each gate out of the stage says the first thing that stands in its way', () => {
  expect(why({ email, industry: 'Brewery', country: 'NO' })).toEqual([
    'qualify → qualified: does not hold: Verdict is Hand over now or Hand over (is Nurture)',
    'decline → out: does not hold: Verdict is Decline (is Nurture)',
  ]);
  expect(why({ email, employees: 'many' })).toEqual([
    'qualify → qualified: can’t be judged: Verdict',
    'decline → out: is not asked: one above it can’t be judged',
  ]);
});

test('a gate whose condition holds waits for the first field that is blank, then for the time in the stage', () => {
  const asking = (gate: Record<string, unknown>): unknown =>
    Object.assign(gate, { when: { test: 'all', of: [] }, requiredFields: ['employees', 'deal_value'], minDays: 3 });
  const first = (raw: Record<string, Raw>) => why({ email, industry: 'Brewery', ...raw }, asking)[0];
  expect(first({ deal_value: '1000 EUR' })).toBe('qualify → qualified: waits: Employees is blank');
  expect(first({ employees: '4' })).toBe('qualify → qualified: waits: Deal value is blank');
  expect(first({ employees: '4', deal_value: '1000 EUR' })).toMatch(/^qualify → qualified: waits: .*3.* \(is 0\)$/);
});

test('one that holds acts when next something happens, those below it wait; one that held at its last look does not act again', () => {
  const always = (gate: Record<string, unknown>): unknown => Object.assign(gate, { when: { test: 'all', of: [] } });
  expect(why({ email }, always)).toEqual([
    'qualify → qualified: holds, and acts when next something happens',
    'decline → out: is not asked: one above it acts first',
  ]);
  const { rules } = smallCharter(world, ({ gates }) => always(gates[0] as never));
  const looks = new Map([[rules.lead.gates[0]!.look, 'true' as const]]);
  expect(why({ email }, always, looks)[0]).toContain('held already at the last look');
});

test('one that asks says so, and holds nothing up; one for a person alone waits for them', () => {
  const decided = (decider: object) => (gate: Record<string, unknown>) =>
    Object.assign(gate, { when: { test: 'all', of: [] }, decider });
  const asks = decided({ kind: 'asks' });
  const raw = { email, employees: 'many' };
  expect(why({ email, industry: 'Brewery' }, asks)).toEqual([
    'qualify → qualified: holds, and asks a person when next something happens',
    'decline → out: does not hold: Verdict is Decline (is Nurture)',
  ]);
  const { rules } = smallCharter(world, ({ gates }) => asks(gates[0] as never));
  const looks = new Map([[rules.lead.gates[0]!.look, 'true' as const]]);
  expect(why({ email }, asks, looks)[0]).toBe(
    'qualify → qualified: has asked a person: it asks again once it has been false in between',
  );
  expect(why(raw, decided({ kind: 'person' }))[0]).toBe('qualify → qualified: holds, and is for a person to decide');
});
