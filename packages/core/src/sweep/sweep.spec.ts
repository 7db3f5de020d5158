import { stagesOf } from '../gate/pipeline';
import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import type { ReadyCharter, ReadyRules } from '../charter/ready-charter';
import { condition, SCOPE } from '../condition/conditions.fixture';
import { bindCondition } from '../condition/bind-condition';
import { judge } from '../condition/judge';
import { Spot } from '../document/problem';
import { appraise } from '../decide/decide';
import type { Appraisal } from '../decide/decision';
import { GatheredFacts } from '../decide/facts';
import type { Occasion } from '../record/occasion';
import type { ReadyScoreSet, SetScore } from '../score/score-record';
import { countBits, hasBit } from '../column/bits';
import { BY_RULE } from '../gate/gate';
import { type PopulationRecord } from './encode';
import { Resident } from './resident';
import { FIRST_ROUTE, NO_ROUTE, NOT_ROUTED, ROUTE_UNJUDGED } from './route-sweep';
import { HUNDREDTHS } from './score-tables';
import { changingCharter } from './changing-charter.fixture';
import { asNew, lookingAt, records, populationOf } from './rows.fixture';
import { AS_OF, charter, RATES, WORLD } from './sweep.fixture';
import { type Reach, type Reading, Sweep, type Swept } from './sweep';

const ZONE = 'Europe/Oslo';

function resident(list: readonly PopulationRecord[], baseCurrency: string): Resident {
  return new Resident(
    populationOf(list),
    AS_OF,
    { timeZone: ZONE, baseCurrency },
    { kinds: KINDS, rates: RATES, teams: WORLD.teams },
  );
}

/** What the sweep says of one record. */
function sweptOf(swept: Swept, i: number) {
  const { scores, charter: ready, grades, sets } = swept;
  const cell = scores.cell[i] ?? 0;
  const grade = grades[cell - 1];
  const none = cell === grades.length + 1;
  const scoresOf = ({ scores: of, unscored }: Pick<Swept, 'scores' | 'unscored'>) =>
    (['fit', 'engagement'] as const).map((axis) => {
      const open = unscored[axis];
      return open !== null && hasBit(open, i) ? 'unjudged' : (of[axis][i] ?? NaN) / HUNDREDTHS;
    });
  const stages = stagesOf(ready.charter, 'lead').filter((_, s) => hasBit(swept.stages[s]!, i));
  if (scores.cells.findIndex((bits) => hasBit(bits, i)) !== cell) throw new Error(`Record ${i} has not one cell`);
  if (stages.length !== 1) throw new Error(`Record ${i} stands in ${stages.length} stages`);
  const outcome = swept.outcome[i] ?? NaN;
  return {
    scores: none ? 'none' : scoresOf(swept),
    bySet: sets.flatMap((one) => (hasBit(one.admitted, i) ? [[one.set.key, ...scoresOf(one)]] : [])),
    grade: grade
      ? [
          grade.set.key,
          grade.set.grid.fit.bands[grade.fit]?.name ?? '',
          grade.set.grid.engagement.bands[grade.engagement]?.name ?? '',
        ]
      : null,
    stage: stages[0]?.key,
    loop: hasBit(swept.loop, i),
    asked: hasBit(swept.asked, i),
    open: hasBit(swept.open, i),
    territory: swept.territory.dictionary[(swept.territory.codes[i] ?? 0) - 1] ?? null,
    route: outcome < FIRST_ROUTE ? outcome : swept.routes[outcome - FIRST_ROUTE]?.key,
  };
}

/** What the one-record way says. */
function appraisedOf(
  { score, grade, stage, gates, status, territory, routing }: Appraisal,
  ready: ReadyCharter,
): ReturnType<typeof sweptOf> {
  const match = routing?.match;
  const scoresOf = ({ fit, engagement }: Pick<SetScore, 'fit' | 'engagement'>) =>
    [fit, engagement].map((axis) => (axis.judged ? axis.score : 'unjudged'));
  return {
    scores: score.admitted === 'no' ? 'none' : scoresOf(score),
    bySet: ready.rules.lead.scoreSets.flatMap(({ key }) =>
      [score, ...score.beside].flatMap((one) => (one.set === key ? [[key, ...scoresOf(one)]] : [])),
    ),
    grade: grade && [score.set ?? '', ...grade.name.split(' ')],
    stage,
    loop: gates.loop.length > 0,
    asked: gates.asks.length > 0,
    open: status === 'open',
    territory: 'territory' in territory ? territory.territory : null,
    route:
      match === undefined
        ? NOT_ROUTED
        : match.kind === 'unjudged'
          ? ROUTE_UNJUDGED
          : match.kind === 'none'
            ? NO_ROUTE
            : match.route,
  };
}

/** Compared as text first: a look at each part is dear. */
function expectSame(swept: Swept, size: number, said: readonly ReturnType<typeof sweptOf>[]): void {
  const all = Array.from({ length: size }, (_, i) => sweptOf(swept, i));
  if (JSON.stringify(all) !== JSON.stringify(said)) expect(all).toEqual(said);
}

const ON_ENACT: Readonly<Record<Reach, Occasion>> = { score: 'enacted', gates: 'regated', routes: 'rerouted' };
/** Of a charter: each changes alone, so that nothing kept between runs is told apart by another. */
const PARTS = ['all', 'sets', 'entries', 'signals', 'grid', 'gates', 'pipelines', 'streams', 'territories'];
const READINGS: readonly Reading[] = [
  { kind: 'came-in' },
  { kind: 'on-enact', reach: 'score' },
  { kind: 'on-enact', reach: 'gates' },
  { kind: 'on-enact', reach: 'routes' },
];

test.each(READINGS)('the sweep, read %j, says of every record what the one-record way says', (reading) => {
  fc.assert(
    fc.property(charter, records, (ready, some) => {
      const list = lookingAt(ready, some);
      const swept = new Sweep(resident(list, ready.charter.baseCurrency), reading).run(ready);
      const said = list.map(({ record }) => {
        const one =
          reading.kind === 'came-in'
            ? appraise(ready, asNew(record), WORLD, 'created', AS_OF)
            : appraise(ready, record, WORLD, ON_ENACT[reading.reach], AS_OF);
        return appraisedOf(one, ready);
      });
      expectSame(swept, list.length, said);
    }),
    { numRuns: 70 },
  );
});

test.each(READINGS.filter((one) => one.kind === 'came-in' || one.reach !== 'score'))(
  'what gates change is what the next gates and the routes read, read %j, as the one-record way says',
  (reading) => {
    let changed = 0;
    let looped = 0;
    fc.assert(
      fc.property(changingCharter, records, (ready, some) => {
        const list = lookingAt(ready, some);
        const swept = new Sweep(resident(list, 'EUR'), reading).run(ready);
        const said = list.map(({ record }) =>
          reading.kind === 'came-in'
            ? appraise(ready, asNew(record), WORLD, 'created', AS_OF)
            : appraise(ready, record, WORLD, ON_ENACT[reading.reach], AS_OF),
        );
        changed += said.filter(({ gates }) => gates.changes.length > 0).length;
        looped += said.filter(({ gates }) => gates.loop.length > 0).length;
        expectSame(
          swept,
          list.length,
          said.map((one) => appraisedOf(one, ready)),
        );
      }),
      { numRuns: 60 },
    );
    expect(changed).toBeGreaterThan(200);
    expect(looped).toBeGreaterThan(5);
  },
);

/** A charter whose gates move by themselves where they ask: one gate for each outcome, before the one for its own stage. */
function accepting(ready: ReadyCharter): ReadyCharter {
  const gates = ready.rules.lead.gates.flatMap((gate) => {
    if (gate.decider.kind !== 'asks') return [gate];
    const own = { ...gate, decider: BY_RULE, alternatives: [] };
    const others = gate.alternatives.map(({ to, ready: when }) => ({
      ...{ ...own, to, effects: [] },
      ready: { kind: 'all', of: [gate.ready, when] } as const,
    }));
    return [...others, own];
  });
  return withParts(ready, {}, { gates });
}

test.each(READINGS)('what gates ask counts as accepted, read %j: each moves to the rule’s pick', (reading) => {
  let asked = 0;
  fc.assert(
    fc.property(charter, records, (ready, some) => {
      const list = lookingAt(ready, some);
      const here = resident(list, ready.charter.baseCurrency);
      const accepted = new Sweep(here, { ...reading, accepted: true }).run(ready);
      const byRule = new Sweep(here, reading).run(accepting(ready));
      asked += countBits(new Sweep(here, reading).run(ready).asked);
      expectSame(
        accepted,
        list.length,
        list.map((_, i) => sweptOf(byRule, i)),
      );
    }),
    { numRuns: 60 },
  );
  expect(asked > 0).toBe(reading.kind === 'came-in' || reading.reach !== 'score');
});

test.each(READINGS)('a sweep that went from charter to charter, read %j, is the same as a new one', (reading) => {
  const change = fc.constantFrom(...PARTS);
  const part = (from: ReadyCharter, to: ReadyCharter, what: string): ReadyCharter => {
    switch (what) {
      case 'sets':
        return withParts(from, { scoreSets: to.charter.scoreSets }, { scoreSets: to.rules.lead.scoreSets });
      case 'entries':
        return withSets(from, to, ({ on, when, ready }) => ({ on, when, ready }));
      case 'signals':
        return withSets(from, to, ({ signals }) => ({ signals }));
      case 'grid':
        return withSets(from, to, ({ grid }) => ({ grid }));
      case 'gates':
        return withParts(from, { gates: to.charter.gates }, { gates: to.rules.lead.gates });
      case 'streams':
        return withParts(from, { streams: to.charter.streams }, { streams: to.rules.lead.streams });
      case 'pipelines': {
        const { stages, entries } = to.rules.lead;
        return withParts(from, { pipelines: to.charter.pipelines }, { stages, entries });
      }
      case 'territories':
        return { ...withParts(from, { territories: to.charter.territories }, {}), coverage: to.coverage };
      default:
        return to;
    }
  };
  fc.assert(
    fc.property(
      records,
      charter,
      fc.array(fc.tuple(charter, change), { minLength: 1, maxLength: 4 }),
      (some, first, steps) => {
        const list = lookingAt(first, some);
        const here = resident(list, first.charter.baseCurrency);
        const going = new Sweep(here, reading);
        let at = first;
        going.run(at);
        for (const [next, what] of steps) {
          at = part(at, next, what);
          const swept = going.run(at);
          const anew = new Sweep(resident(list, first.charter.baseCurrency), reading).run(at);
          expectSame(
            swept,
            list.length,
            list.map((_, i) => sweptOf(anew, i)),
          );
        }
      },
    ),
    { numRuns: 40 },
  );
});

/** The same sets, each with some of another charter's set in its place. */
function withSets(from: ReadyCharter, to: ReadyCharter, part: (set: ReadyScoreSet) => object): ReadyCharter {
  const others = to.rules.lead.scoreSets;
  const scoreSets = from.rules.lead.scoreSets.map((set, s) => ({ ...set, ...part(others[s] ?? set) }));
  return withParts(from, { scoreSets }, { scoreSets });
}

function withParts(ready: ReadyCharter, charterPart: object, rules: Partial<ReadyRules>): ReadyCharter {
  const lead = { ...ready.rules.lead, ...rules };
  return { ...ready, charter: { ...ready.charter, ...charterPart }, rules: { ...ready.rules, lead } };
}

test('a condition over columns says yes, no and unjudged where judge does', () => {
  fc.assert(
    fc.property(condition, records, (when, list) => {
      const ready = bindCondition(when, SCOPE, Spot.root([]));
      const mask = resident(list, 'EUR').answerTo(ready);
      list.forEach(({ record }, i) => {
        const setting = { charter: { baseCurrency: 'EUR', timeZone: ZONE } } as ReadyCharter;
        const swept = hasBit(mask.yes, i)
          ? 'yes'
          : mask.unjudged !== null && hasBit(mask.unjudged, i)
            ? 'unjudged'
            : 'no';
        expect([i, swept]).toEqual([i, judge(ready, GatheredFacts.of(record, WORLD, setting, AS_OF))]);
      });
    }),
    { numRuns: 200 },
  );
});
