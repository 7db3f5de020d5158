import fc from 'fast-check';
import { type Facts, NO_FACTS } from '../condition/facts';
import type { StageKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import type { Look } from '../record/record';
import { BY_RULE, type Decider } from './gate';
import { type GateRun, MOST_MOVES, passGates, type PersonMove, type ReadyGate } from './pass-gates';

type Truth = 'yes' | 'no' | 'unjudged';

/** A gate whose condition is the field of the same key. */
function gate(key: string, from: string, to: string, on = true): ReadyGate {
  const when = { test: 'one-of', subject: { kind: 'field', field: key }, values: ['yes'] } as const;
  const ready = { kind: 'yes-no', subject: when.subject, source: when, yes: true } as const;
  return {
    key,
    name: key,
    from: from as StageKey,
    to: to as StageKey,
    on,
    ...{ when, requiredFields: [], minDays: 0, minHours: 0, decider: BY_RULE, look: key },
    ...{ ready, parts: { when: ready, filled: [] }, alternatives: [], effects: [], tasks: [], deal: null },
  };
}

function facts(truths: Readonly<Record<string, Truth>>): Facts {
  const valueOf = (truth: Truth | undefined): Value => {
    if (truth === undefined) return BLANK;
    return truth === 'unjudged'
      ? { kind: 'unreadable', raw: '?', why: 'is neither yes nor no' }
      : { kind: 'yes-no', yes: truth === 'yes' };
  };
  return { ...NO_FACTS, value: (field) => valueOf(truths[field]) };
}

const ASKS: Decider = { kind: 'asks', withoutOwner: null, alternatives: [] };

const at = (stage: string, looks: Readonly<Record<string, Look>> = {}) => ({
  stage: stage as StageKey,
  entry: 'new' as StageKey,
  looks: new Map(Object.entries(looks)),
});
const pass = (
  gates: ReadyGate[],
  from: ReturnType<typeof at> & { readonly person?: PersonMove },
  truths: Readonly<Record<string, Truth>>,
  run: GateRun = 'on what became true',
) => passGates(gates, from, () => facts(truths), run);

test('the first gate of the stage whose condition became true moves the record, and the next go on from there', () => {
  const gates = [gate('a', 'new', 'mid'), gate('b', 'new', 'end'), gate('c', 'mid', 'end')];
  const passage = pass(gates, at('new'), { a: 'yes', b: 'yes', c: 'yes' });
  expect(passage.moves.map((move) => move.gate)).toEqual(['a', 'c']);
  expect(passage.stage).toBe('end');
  expect(passage.looked.map(({ gate: key, answer }) => `${key} ${answer}`)).toEqual(['a moves', 'c moves']);
});

test('looks are of gates that are on and lead out of the stage: entering it starts them as false', () => {
  const gates = [gate('a', 'new', 'mid', false), gate('b', 'mid', 'end'), gate('c', 'new', 'mid')];
  const before = at('new', { a: 'true', b: 'true', c: 'true' });
  // Off, or of another stage: no look; it was true before its stage was entered, and acts then.
  expect(pass(gates, before, { a: 'yes', b: 'yes', c: 'yes' })).toMatchObject({ stage: 'new', looks: [['c', 'true']] });
  expect(pass(gates, at('new', { b: 'true' }), { b: 'yes', c: 'yes' })).toMatchObject({ stage: 'end', looks: [] });
});

test('where gates are not run no look is written: what holds then acts on the next occasion, unless that is time alone', () => {
  const gates = [gate('a', 'new', 'end'), gate('b', 'new', 'end'), gate('c', 'new', 'end')];
  const scored = pass(gates, at('new', { b: 'true', c: 'true' }), { a: 'yes', b: 'no', c: 'unjudged' }, 'no');
  expect(scored).toMatchObject({ stage: 'new', moves: [], unjudged: ['c'] });
  expect(scored.looks).toEqual([
    ['a', 'held'],
    ['b', 'true'],
    ['c', 'true'],
  ]);
  expect(scored.looked.map((look) => look.answer)).toEqual(['only-looked', 'no', 'unjudged']);

  const held = at('new', { a: 'held' });
  const later = pass(gates, held, { a: 'yes' }, 'by time');
  expect(later).toMatchObject({ stage: 'new', looks: [['a', 'held']] });
  expect(later.looked[0]?.answer).toBe('held-before');
  expect(pass(gates, held, { a: 'no', b: 'yes' }, 'by time').stage).toBe('end');
  expect(pass(gates, held, { a: 'yes' }).stage).toBe('end');
});

test('a gate that can’t be judged stops those below it in its stage, not those above', () => {
  const gates = [gate('a', 'new', 'end'), gate('b', 'new', 'end'), gate('c', 'new', 'mid')];
  const stopped = pass(gates, at('new'), { a: 'no', b: 'unjudged', c: 'yes' });
  expect(stopped).toMatchObject({ stage: 'new', moves: [], unjudged: ['b'] });
  expect(stopped.looked.map(({ gate: key, answer }) => `${key} ${answer}`)).toEqual(['a no', 'b unjudged']);
  expect(pass(gates, at('new'), { a: 'yes', b: 'unjudged', c: 'yes' })).toMatchObject({ stage: 'end', unjudged: [] });
});

test('a circle is stopped after the most moves', () => {
  const passage = pass([gate('a', 'x', 'y'), gate('b', 'y', 'x')], at('x'), { a: 'yes', b: 'yes' });
  expect(passage).toMatchObject({ stage: 'x', moves: [] });
  expect(passage.loop).toHaveLength(MOST_MOVES);
});

test.each([BY_RULE, ASKS])(
  'over any history a gate acts exactly at the rising edges of its condition, whoever decides: %j',
  (decider) => {
    const truth = fc.constantFrom<Truth>('yes', 'no', 'unjudged');
    fc.assert(
      fc.property(fc.array(truth, { maxLength: 30 }), (history) => {
        let looks: Readonly<Record<string, Look>> = {};
        let known = false;
        for (const now of history) {
          const passage = pass([{ ...gate('a', 'new', 'end'), decider }], at('new', looks), { a: now });
          expect(passage.moves.length + passage.asks.length).toBe(now === 'yes' && !known ? 1 : 0);
          expect(passage.asks.length).toBe(decider.kind === 'asks' ? passage.moves.length + passage.asks.length : 0);
          if (now !== 'unjudged') known = now === 'yes';
          // Always back in the first stage, as if someone had moved it back by hand: its look is the present truth.
          looks = known ? { a: 'true' } : {};
          if (passage.moves.length === 0) expect(Object.fromEntries(passage.looks)).toEqual(looks);
        }
      }),
    );
  },
);

test('what is asked beside the condition holds the gate back, not those below it; its look is of all together', () => {
  const asks = (truth: string) => ({ kind: 'yes-no', subject: { kind: 'field', field: truth }, yes: true }) as const;
  const whole = (filled: string | null): ReadyGate => {
    const one = gate('a', 'new', 'mid');
    const [field, time] = ['f', 't'].map((key) => ({ ...asks(key), source: one.when }) as typeof one.ready);
    const parts = filled === null ? [time!] : [field!, time!];
    return {
      ...one,
      ...{
        requiredFields: filled === null ? [] : [filled],
        minDays: 3,
        ready: { kind: 'all', of: [one.ready, ...parts] },
      },
    };
  };
  const answers = (truths: Readonly<Record<string, Truth>>, first = whole('f')) => {
    const { looked, looks, stage } = pass([first, gate('b', 'new', 'end')], at('new'), truths);
    return [looked.map(({ answer }) => answer).join(), looks.map(([look]) => look).join(), stage];
  };
  expect(answers({ a: 'yes', f: 'no', t: 'no', b: 'no' })).toEqual(['waits-for-field,no', '', 'new']);
  expect(answers({ a: 'yes', f: 'yes', t: 'no', b: 'yes' })).toEqual(['waits-for-time,moves', '', 'end']);
  expect(answers({ a: 'no', f: 'yes', t: 'yes', b: 'no' })).toEqual(['no,no', '', 'new']);
  expect(answers({ a: 'yes', t: 'no', b: 'no' }, whole(null))).toEqual(['waits-for-time,no', '', 'new']);
  expect(answers({ a: 'yes', f: 'yes', t: 'yes', b: 'no' })).toEqual(['moves', '', 'mid']);
});

test('a gate that asks holds nothing up: one below it moves the record, and then nobody is asked', () => {
  const asking = { ...gate('a', 'new', 'mid'), decider: ASKS };
  const gates = [asking, gate('b', 'new', 'end'), { ...gate('c', 'end', 'mid'), decider: ASKS }];
  const asked = pass(gates, at('new'), { a: 'yes', b: 'no' });
  expect(asked).toMatchObject({ stage: 'new', moves: [], asks: [{ gate: 'a', pick: 'mid' }], looks: [['a', 'true']] });
  expect(asked.looked.map(({ answer }) => answer)).toEqual(['asks', 'no']);
  expect(pass(gates, at('new'), { a: 'yes', b: 'yes' })).toMatchObject({ stage: 'end', asks: [], looks: [] });
  // The stage that it ends in may ask in its turn.
  expect(pass(gates, at('new'), { a: 'yes', b: 'yes', c: 'yes' }).asks).toMatchObject([{ gate: 'c', pick: 'mid' }]);
  // Nobody knows whether it asks: those below wait. Where gates are not run, nobody is asked.
  expect(pass(gates, at('new'), { a: 'unjudged', b: 'yes' })).toMatchObject({ stage: 'new', unjudged: ['a'] });
  expect(pass(gates, at('new'), { a: 'yes' }, 'no')).toMatchObject({ asks: [], looks: [['a', 'held']] });
  const circle = [{ ...gate('q', 'x', 'end'), decider: ASKS }, gate('a', 'x', 'y'), gate('b', 'y', 'x')];
  expect(pass(circle, at('x'), { q: 'yes', a: 'yes', b: 'yes' })).toMatchObject({ moves: [], asks: [], looks: [] });
});

test('the rule’s pick is the first alternative whose condition holds, else the gate’s own stage', () => {
  const when = (field: string) => gate(field, 'new', 'end').ready;
  const alternatives = (['mid', 'end'] as StageKey[]).map((to, i) => ({ to, ready: when(`to${i}`) }));
  const asking = { ...gate('a', 'new', 'far'), decider: ASKS, alternatives };
  const pick = (truths: Readonly<Record<string, Truth>>) =>
    pass([asking], at('new'), { a: 'yes', ...truths }).asks[0]?.pick;
  expect(pick({ to0: 'yes', to1: 'yes' })).toBe('mid');
  expect(pick({ to0: 'unjudged', to1: 'yes' })).toBe('end');
  expect(pick({ to0: 'no', to1: 'no' })).toBe('far');
});

test('a gate for a person alone moves and asks nobody, and does not stop those below where it can’t be judged', () => {
  const alone = { ...gate('a', 'new', 'mid'), decider: { kind: 'person' } as const };
  const answers = (truth: Truth) => pass([alone, gate('b', 'new', 'end')], at('new'), { a: truth, b: 'yes' });
  expect(answers('yes')).toMatchObject({ stage: 'end', asks: [] });
  expect(answers('yes').looked[0]?.answer).toBe('for-a-person');
  expect(answers('unjudged')).toMatchObject({ stage: 'end', unjudged: [] });
  expect(pass([alone], at('new'), { a: 'yes' }).looks).toEqual([]);
});

describe('a person moves a record first', () => {
  const gates = [gate('a', 'mid', 'end'), { ...gate('b', 'mid', 'end'), decider: ASKS }, gate('c', 'end', 'new')];
  const by = (kind: 'accepts' | 'moves', truths: Readonly<Record<string, Truth>>) =>
    pass(gates, { ...at('new'), person: { kind, gate: null, to: 'mid' as StageKey } }, truths);

  test('by hand: what holds in the stage already stays without effect until it was false', () => {
    const back = by('moves', { a: 'yes', b: 'yes' });
    expect(back).toMatchObject({ stage: 'mid', moves: [{ gate: null, from: 'new', to: 'mid' }], asks: [] });
    expect(Object.fromEntries(back.looks)).toEqual({ a: 'true', b: 'true' });
    expect(by('moves', { a: 'no', b: 'no' })).toMatchObject({ stage: 'mid', looks: [] });
    expect(by('moves', { a: 'unjudged', b: 'yes' })).toMatchObject({ unjudged: ['a'], looks: [['b', 'true']] });
  });

  test('by an answer to a question: the gates of the stage act, as when a rule had moved it', () => {
    expect(by('accepts', { a: 'yes', c: 'no' })).toMatchObject({
      stage: 'end',
      moves: [{ gate: null }, { gate: 'a' }],
    });
    expect(by('accepts', { a: 'no', b: 'yes' })).toMatchObject({ stage: 'mid', asks: [{ gate: 'b' }] });
  });

  test('by hand the time is left out: it does not act when the time comes', () => {
    const field = (key: string) => gate(key, 'mid', 'end').ready;
    const late = {
      ...gate('a', 'mid', 'end'),
      minDays: 3,
      ready: { kind: 'all', of: [field('a'), field('t')] } as const,
    };
    const moved = pass(
      [late],
      { ...at('new'), person: { kind: 'moves', gate: null, to: 'mid' as StageKey } },
      { a: 'yes', t: 'no' },
    );
    expect(moved.looks).toEqual([['a', 'true']]);
    const edited = pass([late], at('mid', { a: 'true' }), { a: 'yes', t: 'no' });
    expect(edited.looks).toEqual([['a', 'true']]);
    expect(pass([late], at('mid', { a: 'true' }), { a: 'yes', t: 'yes' }, 'by time')).toMatchObject({ stage: 'mid' });
    expect(pass([late], at('mid', { a: 'true' }), { a: 'no', t: 'yes' }).looks).toEqual([]);
  });
});
