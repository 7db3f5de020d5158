import { smallCharter, smallWorld } from '../charter/charter.fixture';
import { decide } from '../decide/decide';
import { withChangedValues } from '../decide/facts';
import { JUST_IN, type MovingRecord } from '../record/record';
import { readValue, showValue, type Raw } from '../record/value';
import { readSetValue, settingProblem, valueAfter } from './effect';
import type { PersonMove } from './pass-gates';

const NOW = Date.parse('2026-03-02T09:00:00Z');
const world = smallWorld();
const ALWAYS = { test: 'all', of: [] };
const is = (field: string, value: string) => ({ test: 'one-of', subject: { kind: 'field', field }, values: [value] });
const tagged = (tag: string) => ({ test: 'any-of', subject: { kind: 'field', field: 'tags' }, values: [tag] });

const lead = (
  values: Readonly<Record<string, Raw>>,
  standing: Partial<MovingRecord['standing']> = {},
): MovingRecord => ({
  ...{ id: '1', kind: 'lead', arrived: NOW, way: 'hand', activities: [] },
  values: new Map(
    Object.entries(values).map(([key, raw]) => [key, readValue(world.fields.get(key)!, raw, '2026-03-01')]),
  ),
  standing: { ...JUST_IN, ...standing },
});

const gate = (key: string, from: string, to: string, when: object, ...effects: object[]) => ({
  ...{ key, name: key, from, to, when, effects },
});
const withGates = (...gates: object[]) => smallCharter(world, (json) => Object.assign(json, { gates }));
const shown = (changes: readonly { field: string; value: Parameters<typeof showValue>[0]; gate: string }[]) =>
  changes.map(({ field, value, gate: by }) => `${field}=${showValue(value)} by ${by}`);

test('the next gates, and the routes, read what a gate changed; each value is that of the last gate that set it', () => {
  const charter = withGates(
    gate('a', 'new', 'qualified', ALWAYS, { kind: 'set', field: 'note', value: '1' }, { kind: 'tag', tag: 'Pilot' }),
    gate(
      'b',
      'qualified',
      'out',
      { test: 'all', of: [is('note', '1'), tagged('pilot')] },
      { kind: 'set', field: 'note', value: '2' },
    ),
  );
  const { gates, stage } = decide(charter, lead({ tags: ['Fair'] }), world, 'created', NOW);
  expect([stage, shown(gates.changes)]).toEqual(['out', ['note=2 by b', 'tags=Fair; Pilot by a']]);
});

test('a value that a lead has already is no change; an empty one empties; an amount is of the day of the move', () => {
  const charter = withGates(
    gate(
      'a',
      'new',
      'qualified',
      ALWAYS,
      { kind: 'set', field: 'note', value: '' },
      { kind: 'set', field: 'deal_value', value: '900 EUR' },
      { kind: 'tag', tag: 'FAIR' },
    ),
  );
  const { changes } = decide(charter, lead({ note: '7', tags: ['Fair'] }), world, 'created', NOW).gates;
  expect(changes).toEqual([
    { field: 'note', gate: 'a', value: { kind: 'blank' } },
    {
      field: 'deal_value',
      gate: 'a',
      value: { kind: 'money', minor: 90_000, currency: 'EUR', enteredOn: '2026-03-02' },
    },
  ]);
  const after = withChangedValues(lead({ note: '7', tags: ['Fair'] }), changes);
  expect(decide(charter, after, world, 'created', NOW).gates.changes).toEqual([]);
});

test('a person who takes the gate’s own stage passes it; another outcome of it changes nothing', () => {
  const charter = smallCharter(world, (json) =>
    Object.assign(json, {
      gates: [
        {
          ...gate('a', 'new', 'qualified', ALWAYS, { kind: 'tag', tag: 'Pilot' }),
          decider: { kind: 'asks', withoutOwner: null, alternatives: [{ to: 'out', when: { test: 'any', of: [] } }] },
        },
      ],
    }),
  );
  const after = (to: string, kind: PersonMove['kind']) =>
    decide(charter, lead({}, { stage: 'new' as never }), world, kind === 'accepts' ? 'accepted' : 'moved', NOW, {
      kind,
      gate: 'a',
      to: to as never,
    });
  expect(shown(after('qualified', 'accepts').gates.changes)).toEqual(['tags=Pilot by a']);
  expect(shown(after('qualified', 'moves').gates.changes)).toEqual(['tags=Pilot by a']);
  expect(after('out', 'moves').gates.changes).toEqual([]);
  expect(decide(charter, lead({}), world, 'created', NOW).gates).toMatchObject({ changes: [], asks: [{ gate: 'a' }] });
});

test('of a lead that runs in a circle all is undone: stage, looks and values', () => {
  const charter = withGates(
    gate('a', 'new', 'qualified', ALWAYS, { kind: 'tag', tag: 'Round' }),
    gate('b', 'qualified', 'new', ALWAYS, { kind: 'set', field: 'note', value: '3' }),
  );
  const looks = new Map([['other', 'true' as const]]);
  const decision = decide(charter, lead({ note: '7' }, { stage: 'new' as never, looks }), world, 'edited', NOW);
  expect(decision).toMatchObject({ stage: 'new', gates: { moves: [], changes: [], looks: [], asks: [] } });
  expect(new Set(decision.gates.loop)).toEqual(new Set(['a', 'b']));
  expect(decision.place).toMatchObject({ kind: 'bay', reason: { why: 'loop' } });
});

test('a gate sets plain fields of the records that it moves alone', () => {
  const plain = { key: 'region', name: 'Region', type: 'text', options: [], role: null, retired: false } as const;
  expect(settingProblem(plain, 'lead', ['country'])).toBeNull();
  expect(settingProblem(plain, 'deal', ['country'])).toMatch(/belongs to the lead/);
  expect(settingProblem({ ...plain, key: 'deal.region' }, 'deal', ['country'])).toBeNull();
  expect(settingProblem({ ...plain, key: 'deal.region' }, 'lead', ['country'])).toMatch(/belongs to the deal/);
  expect(settingProblem({ ...plain, key: 'mail', type: 'email', role: 'email' }, 'lead', ['country'])).toMatch(
    /role of its own/,
  );
  expect(settingProblem({ ...plain, feeds: 'company.region' }, 'lead', ['country'])).toMatch(/taken over/);
  expect(settingProblem(plain, 'lead', ['country', 'region', null])).toMatch(/tells the territory/);
});

test('tags that can’t be read are left for a person; an option that is no longer offered may be set', () => {
  const raw = { kind: 'unreadable', raw: 'x'.repeat(300), why: 'has a long word' } as const;
  expect(valueAfter({ kind: 'tag', field: 'tags', tag: 'Pilot' }, raw, '2026-03-02')).toBe(raw);
  const trade = {
    key: 'trade',
    name: 'Trade',
    type: 'choice',
    options: ['Mill'],
    retiredOptions: ['Brewery'],
    retired: false,
  } as const;
  expect(readSetValue(trade, 'brewery')).toMatchObject({ kind: 'text', text: 'Brewery' });
  expect(readSetValue(trade, 'Forge').kind).toBe('unreadable');
});
