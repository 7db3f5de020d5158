import fc from 'fast-check';
import type { Facts } from '../condition/judge';
import type { StageKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import { MOST_MOVES, passGates, type ReadyGate } from './pass-gates';

type Truth = 'yes' | 'no' | 'unjudged';

/** A gate whose condition is the field of the same key. */
function gate(key: string, from: string, to: string, on = true): ReadyGate {
  const when = { test: 'is', field: key, value: 'yes' } as const;
  return {
    key,
    name: key,
    from: from as StageKey,
    to: to as StageKey,
    on,
    when,
    ready: { kind: 'yes-no', field: key, source: when, yes: true },
  };
}

function facts(truths: Readonly<Record<string, Truth>>): Facts {
  const valueOf = (truth: Truth | undefined): Value => {
    if (truth === undefined) return BLANK;
    return truth === 'unjudged'
      ? { kind: 'unreadable', raw: '?', why: 'is neither yes nor no' }
      : { kind: 'yes-no', yes: truth === 'yes' };
  };
  return { value: (field) => valueOf(truths[field]), inBase: () => null, today: () => 0 };
}

const at = (stage: string, looks: Readonly<Record<string, boolean>> = {}) => ({
  stage: stage as StageKey,
  looks: new Map(Object.entries(looks)),
});
const pass = (gates: ReadyGate[], from: ReturnType<typeof at>, truths: Readonly<Record<string, Truth>>, run = true) =>
  passGates(gates, from, () => facts(truths), run);

test('the first gate of the stage whose condition became true moves the record, and the next go on from there', () => {
  const gates = [gate('a', 'new', 'mid'), gate('b', 'new', 'end'), gate('c', 'mid', 'end')];
  const passage = pass(gates, at('new'), { a: 'yes', b: 'yes', c: 'yes' });
  expect(passage.moves.map((move) => move.gate)).toEqual(['a', 'c']);
  expect(passage.stage).toBe('end');
  expect(passage.looked.map(({ gate: key, answer }) => `${key} ${answer}`)).toEqual(['a moves', 'c moves']);
});

test('a gate that is off neither moves nor is looked at, but its look is kept up', () => {
  const passage = pass([gate('a', 'new', 'end', false)], at('new'), { a: 'yes' });
  expect(passage).toMatchObject({ stage: 'new', moves: [], looked: [], looks: [['a', true]] });
});

test('on a rescore nothing moves and the looks are set to the present truth; what can’t be judged leaves its look', () => {
  const gates = [gate('a', 'new', 'end'), gate('b', 'new', 'end'), gate('c', 'new', 'end')];
  const passage = pass(gates, at('new', { b: true, c: true }), { a: 'yes', b: 'no', c: 'unjudged' }, false);
  expect(passage).toMatchObject({
    stage: 'new',
    moves: [],
    looks: [
      ['a', true],
      ['b', false],
      ['c', true],
    ],
    unjudged: ['c'],
  });
  expect(passage.looked.map((look) => look.answer)).toEqual(['only-looked', 'no', 'unjudged']);
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
      let looks: Readonly<Record<string, boolean>> = {};
      let known = false;
      for (const now of history) {
        // Always back in the first stage, as if someone had moved it back by hand.
        const passage = pass([gate('a', 'new', 'end')], at('new', looks), { a: now });
        expect(passage.moves.length).toBe(now === 'yes' && !known ? 1 : 0);
        if (now !== 'unjudged') known = now === 'yes';
        looks = Object.fromEntries(passage.looks);
        expect(looks['a']).toBe(known);
      }
    }),
  );
});
