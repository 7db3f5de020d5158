import fc from 'fast-check';
import { emptyRota, noteGiven, type Rep, type Rota, type Turn } from '../people/people';
import type { RepKey } from '../record/keys';
import { chooseByMethod } from './choose-by-method';
import type { Method } from './method';

const keys = (text: string) => Array.from(text) as RepKey[];

/** A team that is given one record after the other; who is not eligible is named at each. */
class Team {
  readonly rota: Rota = emptyRota();
  turn: Turn | null = null;
  private at = 0;

  constructor(
    private readonly method: Method,
    public members: string,
    private readonly reps: Readonly<Record<string, Partial<Rep>>> = {},
  ) {}

  give(times: number, out = ''): string {
    let given = '';
    for (let i = 0; i < times; i += 1) {
      this.at += 1;
      const { rota, turn } = this;
      const people = {
        reps: new Map(
          keys(this.members).map((key) => [key, { limit: null, ...this.reps[key], key } as unknown as Rep]),
        ),
      };
      const choice = chooseByMethod(this.method, {
        ...{ members: keys(this.members), turn, people, rota, seed: `${this.at}` },
        exclusion: (rep) => {
          const limit = people.reps.get(rep)?.limit ?? Infinity;
          const open = rota.loads.get(rep) ?? 0;
          return out.includes(rep) ? { why: 'away' } : open >= limit ? { why: 'at-limit', open, limit } : null;
        },
      });
      this.turn = choice.turn;
      given += choice.chosen ?? '-';
      if (choice.chosen === null) continue;
      rota.loads.set(choice.chosen, (rota.loads.get(choice.chosen) ?? 0) + 1);
      // All in one millisecond.
      noteGiven(rota, choice.chosen, 0);
    }
    return given;
  }
}

const loads = (team: Team, open: Readonly<Record<string, number>>): Team => {
  for (const [rep, count] of Object.entries(open)) team.rota.loads.set(rep as RepKey, count);
  return team;
};

test('three in turn, the second away for records 4 to 7, back at 8', () => {
  const team = new Team('round-robin', 'abc');
  expect(team.give(3) + team.give(4, 'b') + team.give(4)).toBe('abc' + 'acac' + 'abca');
});

test('four with limit 2 and 11 records: each gets two, three wait; one of c’s is closed, and c gets the next', () => {
  const limit = { limit: 2 };
  const team = new Team('round-robin', 'abcd', { a: limit, b: limit, c: limit, d: limit });
  expect(team.give(11)).toBe('abcdabcd---');
  loads(team, { c: 1 });
  expect(team.give(2)).toBe('c-');
});

test('lightest load: 11 of 20 against 20 of 20, three records', () => {
  const team = loads(new Team('lightest-load', 'ab', { a: { limit: 20 }, b: { limit: 20 } }), { a: 11, b: 20 });
  expect(team.give(3)).toBe('aaa');
});

test('lightest load: 3 of 12, 9 of 45, and 4 without a limit, measured against the largest', () => {
  const team = loads(new Team('lightest-load', 'abc', { a: { limit: 12 }, b: { limit: 45 } }), { a: 3, b: 9, c: 4 });
  // 0.25, 0.2, 0.089: c until it carries 9 too, which makes it the equal of b; b never got one.
  expect(team.give(5)).toBe('ccccc');
  expect(team.give(2)).toBe('bc');
});

test('lightest load: without any limit open records are counted, and of equals the one longest without goes first', () => {
  const team = new Team('lightest-load', 'abc');
  expect(team.give(7)).toBe('abcabca');
});

test('first free goes by the last one given, by whatever route; who never got one comes first', () => {
  const team = new Team('first-free', 'abc');
  noteGiven(team.rota, 'a' as RepKey, 5);
  noteGiven(team.rota, 'c' as RepKey, 5);
  expect(team.give(5)).toBe('bacba');
});

test('first on the list is the first who can', () => {
  const team = new Team('first-on-the-list', 'abc', { a: { limit: 1 } });
  expect(team.give(3) + team.give(2, 'b')).toBe('abb' + 'cc');
});

// The smooth weighted round robin published with the nginx server; from memory, and computed anew.
test.each([
  [[5, 1, 1], 'aabacaa'],
  [[4, 2, 1], 'abacaba'],
  [[3, 2, 2], 'abcabca'],
])('weights %j give %s, and again', (weights, sequence) => {
  const [a, b, c] = weights as [number, number, number];
  const team = new Team('weighted', 'abc', { a: { weight: a }, b: { weight: b }, c: { weight: c } });
  expect(team.give(7)).toBe(sequence);
  expect(team.give(7)).toBe(sequence);
});

test('what each has in hand while weights are 5, 1, 1', () => {
  const team = new Team('weighted', 'abc', { a: { weight: 5 } });
  const states = Array.from({ length: 7 }, () => {
    team.give(1);
    return team.turn?.credits?.map((credit) => credit / 100);
  });
  expect(states).toEqual([
    [-2, 1, 1],
    [-4, 2, 2],
    [1, -4, 3],
    [-1, -3, 4],
    [4, -2, -2],
    [2, -1, -1],
    [0, 0, 0],
  ]);
});

test('weighted: over a whole cycle each gets as many as their weight says, wherever it begins', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 6 }),
      fc.nat(20),
      (weights, start) => {
        const names = 'abcdef'.slice(0, weights.length);
        const team = new Team(
          'weighted',
          names,
          Object.fromEntries(weights.map((weight, i) => [names[i]!, { weight }])),
        );
        const sum = weights.reduce((a, b) => a + b, 0);
        team.give(start);
        const cycle = team.give(sum);
        weights.forEach((weight, i) => expect(cycle.split(names[i]!).length - 1).toBe(weight));
      },
    ),
  );
});

test('weighted: who is out earns nothing, so nothing is made up for; a newcomer in the middle of a round begins at nothing', () => {
  const team = new Team('weighted', 'ab');
  expect(team.give(2) + team.give(4, 'b') + team.give(4)).toBe('ab' + 'aaaa' + 'abab');
  team.members = 'abc';
  expect(team.give(6)).toBe('abcabc');
  const half = new Team('weighted', 'abn', { n: { weight: 0.5 } });
  expect([...half.give(50)].filter((rep) => rep === 'n')).toHaveLength(10);
});

test('random: the same record gets the same one; over many, each about as often (χ² at 99.9 %, 4 degrees of freedom: 18.47)', () => {
  const given = new Team('random', 'abcde').give(5000);
  expect(new Team('random', 'abcde').give(5000)).toBe(given);
  const counts = [...'abcde'].map((rep) => given.split(rep).length - 1);
  expect(counts.reduce((sum, count) => sum + (count - 1000) ** 2 / 1000, 0)).toBeLessThan(18.47);
  expect(new Team('random', 'ab').give(20, 'a')).toBe('b'.repeat(20));
});

test('nobody eligible leaves turns and everything else as it was', () => {
  for (const method of [
    'round-robin',
    'weighted',
    'lightest-load',
    'first-free',
    'first-on-the-list',
    'random',
  ] as const) {
    const team = new Team(method, 'ab');
    team.give(1);
    const { turn } = team;
    expect(team.give(2, 'ab')).toBe('--');
    expect(team.turn).toEqual(turn);
  }
});
