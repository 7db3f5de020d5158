import fc from 'fast-check';
import type { RepKey } from '../record/keys';
import type { Turn } from '../people/people';
import { roundRobin } from './round-robin';

const keys = (text: string) => Array.from(text) as RepKey[];

/** Serves so many times; `away` are skipped. */
function serve(members: string, times: number, away = '', from: Turn | null = null) {
  let turn = from;
  let served = '';
  for (let i = 0; i < times; i += 1) {
    const choice = roundRobin({
      members: keys(members),
      turn,
      exclusion: (rep) => (away.includes(rep) ? { why: 'may-not-take-leads' } : null),
    });
    served += choice.chosen ?? '-';
    turn = choice.turn;
  }
  return { served, turn };
}

test('two people in turn; while the second is away the first gets both (common practice, no source)', () => {
  expect(serve('ab', 4).served).toBe('abab');
  expect(serve('ab', 4, 'b').served).toBe('aaaa');
});

test('who is skipped loses the turn, not the place', () => {
  const { turn } = serve('abc', 2, 'b');
  expect(turn?.lastServed).toBe('c');
  expect(serve('abc', 3, '', turn).served).toBe('abc');
});

test('nobody free leaves the turn as it was', () => {
  const { turn } = serve('abc', 1);
  expect(serve('abc', 5, 'abc', turn)).toEqual({ served: '-----', turn });
});

test('a newcomer goes last, and who left is passed over', () => {
  const { turn } = serve('abc', 2);
  expect(serve('abcd', 4, '', turn).served).toBe('cdab');
  expect(serve('acd', 3, '', turn).served).toBe('cda');
  expect(serve('bc', 2, '', serve('abc', 1).turn).served).toBe('bc');
});

test('over whole rounds everyone who is there is served equally often', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 6 }), fc.nat(8), (people, rounds, start) => {
      const members = 'abcdefghi'.slice(0, people);
      const { served } = serve(members, people * rounds, '', serve(members, start).turn);
      for (const rep of members) expect(served.split(rep).length - 1).toBe(rounds);
    }),
  );
});
