import fc from 'fast-check';
import { type Facts, NO_FACTS } from '../condition/facts';
import type { StageKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import type { Look } from '../record/record';
import { type GateRun, MOST_MOVES, passGates, type ReadyGate } from './pass-gates';

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
    ...{ when, requiredFields: [], minDays: 0, look: key, ready, asks: { when: ready, filled: [] } },
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

const at = (stage: string, looks: Readonly<Record<string, Look>> = {}) => ({
  stage: stage as StageKey,
  entry: 'new' as StageKey,
  looks: new Map(Object.entries(looks)),
});
const pass = (
  gates: ReadyGate[],
  from: ReturnType<typeof at>,
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
  expect(passage).toMatchObject({ loop: true, stage: 'x' });
  expect(passage.moves).toHaveLength(MOST_MOVES);
});

test('over any history a gate acts exactly at the rising edges of its condition', () => {
  const truth = fc.constantFrom<Truth>('yes', 'no', 'unjudged');
  fc.assert(
    fc.property(fc.array(truth, { maxLength: 30 }), (history) => {
      let looks: Readonly<Record<string, Look>> = {};
      let known = false;
      for (const now of history) {
        const passage = pass([gate('a', 'new', 'end')], at('new', looks), { a: now });
        expect(passage.moves.length).toBe(now === 'yes' && !known ? 1 : 0);
        if (now !== 'unjudged') known = now === 'yes';
        // Always back in the first stage, as if someone had moved it back by hand: its look is the present truth.
        looks = known ? { a: 'true' } : {};
        if (passage.moves.length === 0) expect(Object.fromEntries(passage.looks)).toEqual(looks);
      }
    }),
  );
});

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
