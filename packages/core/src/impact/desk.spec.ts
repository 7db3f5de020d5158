import type { NobodyFree } from '../route/route';
import { changingCharter } from '../sweep/changing-charter.fixture';
import { emptyRota } from '../people/people';
import { cellKey } from '../grade/grade';
import fc from 'fast-check';
import type { Charter } from '../charter/charter';
import { withSets } from '../charter/changed-charter.fixture';
import { condition, FIELDS, HAVING } from '../condition/conditions.fixture';
import { judge } from '../condition/judge';
import { appraise, decide } from '../decide/decide';
import { gradeRecord } from '../decide/grade-record';
import { BY_RULE } from '../gate/gate';
import { standingStage } from '../gate/pipeline';
import type { AxisScore } from '../score/score-record';
import type { MovingRecord } from '../record/record';
import type { Occasion } from '../record/occasion';
import { encodePopulation, type PopulationRecord } from '../sweep/encode';
import { eventsFrom } from '../column/events';
import type { Reach } from '../sweep/sweep';
import { asNew, lookingAt, type MovingRow, populationOf, records } from '../sweep/rows.fixture';
import { AS_OF, busyCharter, charter, WORLD } from '../sweep/sweep.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import { ImpactDesk } from './desk';
import { type Flow, NOT_SCORED_LABEL } from './facet';
import type { Pair } from './lines';
import type { EnactScope, ImpactReading } from './scope';

const DAY = 86_400_000;
const desk = (list: readonly PopulationRecord[]) => new ImpactDesk(populationOf(list), WORLD, AS_OF);
const pairOf = (before: ReadyCharter, after: ReadyCharter): Pair => ({ inForce: before.charter, draft: after.charter });

/** The stage in which a record stands by a charter, which may have merged it into another. */
const stood = ({ rules }: ReadyCharter, { standing }: MovingRecord) =>
  standing.stage && standingStage(rules.lead.stages, standing.stage);

/** Flows counted one record after the other. */
function flowsOf(pairs: readonly (readonly [string, string])[]): Flow[] {
  const counts = new Map<string, Flow>();
  for (const [from, to] of pairs)
    counts.set(`${from}>${to}`, { from, to, count: (counts.get(`${from}>${to}`)?.count ?? 0) + 1 });
  return [...counts.values()];
}
const sorted = (flows: readonly Flow[]): Flow[] =>
  [...flows].sort((a, b) => (`${a.from}>${a.to}` < `${b.from}>${b.to}` ? -1 : 1));

const facets = (ready: ReadyCharter, record: MovingRecord, occasion: Occasion) => {
  const { score, grade, stage, territory } = appraise(ready, record, WORLD, occasion, AS_OF);
  const shown = (of: AxisScore) => of.judged && of.score;
  return {
    scores: [score, ...score.beside].map(({ set, fit, engagement }) => [set, shown(fit), shown(engagement)]).sort(),
    grade: score.admitted === 'no' ? NOT_SCORED_LABEL : grade === null ? '' : cellKey(grade.bands),
    stage: stage as string,
    territory: 'territory' in territory ? (territory.territory as string) : '',
  };
};

/** By how many bands a grade rises, on an axis or as a whole; none is the lowest. */
function riseOf(from: string, to: string, of: 'grade' | 'fit' | 'engagement'): number {
  const places = (label: string): [number, number] => {
    const [fit = '', engagement = ''] = label.split('/');
    return [['c', 'b', 'a'].indexOf(fit), ['quiet', 'active'].indexOf(engagement)];
  };
  const [was, is] = [places(from), places(to)];
  const [fit, engagement] = [is[0] - was[0], is[1] - was[1]];
  return of === 'fit' ? fit : of === 'engagement' ? engagement : fit || engagement;
}

test('the impact counts what deciding every lead by both charters counts', () => {
  fc.assert(
    fc.property(charter, charter, records, (before, after, list) => {
      const answer = desk(list).impact(pairOf(before, after), { kind: 'came-in' });
      if (!answer.ok) throw new Error('both charters are sound');
      const was = list.map(({ record }) => facets(before, asNew(record), 'created'));
      const is = list.map(({ record }) => facets(after, asNew(record), 'created'));
      for (const facet of ['grade', 'stage', 'territory'] as const) {
        const pairs = list.map((_, i): readonly [string, string] => [was[i]![facet], is[i]![facet]]);
        expect([facet, sorted(answer.answer.facets[facet].flows)]).toEqual([facet, sorted(flowsOf(pairs))]);
        const changed = pairs.flatMap(([from, to], i) => (from === to ? [] : [i + 1]));
        expect(answer.answer.facets[facet].changed).toBe(changed.length);
        // Sixty at most, the best ranks first.
        const shown = answer.answer.leads[facet];
        expect(shown).toHaveLength(Math.min(60, changed.length));
        expect(changed).toEqual(expect.arrayContaining(shown.map((lead) => lead.id)));
        const ranks = shown.map((lead) => lead.rank[1] ?? -Infinity);
        expect(ranks).toEqual([...ranks].sort((a, b) => b - a));
      }
      const { course, shifts, score, spreads } = answer.answer;
      const graded = ({ grade }: { grade: string }) => grade !== '' && grade !== NOT_SCORED_LABEL;
      expect(course.after.grade).toBe(is.filter(graded).length);
      // Which set of those that admit it grades a lead is no score.
      const scores = (one: { scores: unknown[][] }) => JSON.stringify(one.scores.filter(([set]) => set !== null));
      expect(score).toBe(was.filter((one, i) => scores(one) !== scores(is[i]!)).length);
      for (const set of after.rules.lead.scoreSets.filter(({ on }) => on)) {
        const spread = spreads[set.key]!.fit.after!.counts.reduce((sum, count) => sum + count, 0);
        expect(spread).toBe(
          is.filter((one) => one.scores.some(([key, fit]) => key === set.key && fit !== false)).length,
        );
      }
      for (const axis of ['grade', 'fit', 'engagement'] as const)
        for (const way of ['up', 'down'] as const) {
          const moved = list.flatMap((_, i) => {
            const rise = riseOf(was[i]!.grade, is[i]!.grade, axis);
            return (way === 'up' ? rise > 0 : rise < 0) ? [i + 1] : [];
          });
          const { count, leads } = shifts[axis][way];
          expect([axis, way, count]).toEqual([axis, way, moved.length]);
          expect(leads).toHaveLength(Math.min(60, moved.length));
          expect(moved).toEqual(expect.arrayContaining(leads.map(({ id }) => id)));
        }
    }),
    { numRuns: 60, endOnFailure: true },
  );
});

test.each<[Reach, Occasion, EnactScope]>([
  ['score', 'enacted', { which: 'all' }],
  ['gates', 'regated', { which: 'touched', months: 2 }],
  ['routes', 'rerouted', { which: 'all' }],
  ['routes', 'rerouted', { which: 'new' }],
])(
  'on enact as far as %s, occasion %s, for %j: before as governed; the open ones chosen as decided',
  (reach, occasion, scope) => {
    fc.assert(
      fc.property(charter, charter, charter, records, (before, past, after, some) => {
        // Every third record still has its values from charter 3.
        const list = lookingAt(after, some).map((one, i) => (i % 3 === 0 ? { ...one, charter: 3 } : one));
        const here = new ImpactDesk(populationOf(list), WORLD, AS_OF, [{ number: 3, charter: past.charter }]);
        const answer = here.impact(pairOf(before, after), { kind: 'on-enact', reach, scope });
        if (!answer.ok) throw new Error('all charters are sound');
        const chosen = ({ touched, record }: MovingRow): boolean =>
          record.standing.status === 'open' &&
          // From the same day and hour two months before 28 February on; in winter Oslo's clock stands still.
          (scope.which === 'all' || (scope.which === 'touched' && touched >= AS_OF - 62 * DAY));
        expect(answer.answer.chosen).toBe(list.filter(chosen).length);
        const was = list.map(({ record, charter: number }) => facets(number === 3 ? past : before, record, 'enacted'));
        const is = list.map((one, i) => (chosen(one) ? facets(after, one.record, occasion) : was[i]!));
        for (const facet of ['grade', 'stage', 'territory'] as const) {
          const pairs = list.map((_, i): readonly [string, string] => [was[i]![facet], is[i]![facet]]);
          expect([facet, sorted(answer.answer.facets[facet].flows)]).toEqual([facet, sorted(flowsOf(pairs))]);
        }
        const { course, score, spreads } = answer.answer;
        const graded = ({ grade }: { grade: string }) => grade !== '' && grade !== NOT_SCORED_LABEL;
        expect([course.before.grade, course.after.grade]).toEqual([
          was.filter(graded).length,
          is.filter(graded).length,
        ]);
        const scores = (one: { scores: unknown[][] }) => JSON.stringify(one.scores.filter(([set]) => set !== null));
        expect(score).toBe(was.filter((one, i) => scores(one) !== scores(is[i]!)).length);
        for (const [key, spread] of Object.entries(spreads)) {
          const counted = (side: typeof was) =>
            side.filter((one) => one.scores.some(([set, fit]) => set === key && fit !== false)).length;
          const sum = (bars: { counts: readonly number[] } | null) => bars?.counts.reduce((all, n) => all + n, 0) ?? 0;
          expect([key, sum(spread.fit.before), sum(spread.fit.after)]).toEqual([key, counted(was), counted(is)]);
        }
      }),
      { numRuns: 30, endOnFailure: true },
    );
  },
);

test('the open records that meet a gate of the draft are those that move when next something happens to them', () => {
  let met = 0;
  fc.assert(
    fc.property(charter, fc.oneof(charter, changingCharter), records, (before, after, some) => {
      const list = lookingAt(after, some);
      const meeting = desk(list).meeting(pairOf(before, after), { which: 'touched', months: 2 });
      if (!meeting.ok) throw new Error('both charters are sound');
      const moving = list.filter(({ record }) => {
        const next = appraise(after, record, WORLD, 'edited', AS_OF).stage;
        return record.standing.status === 'open' && next !== stood(after, record);
      });
      met += moving.length;
      expect(meeting.answer).toMatchObject({
        count: moving.length,
        chosen: moving.filter(({ touched }) => touched >= AS_OF - 62 * DAY).length,
      });
      expect(meeting.answer.leads.map(({ id }) => String(id))).toEqual(moving.map(({ record }) => record.id));
      const counts = meeting.answer.moves.map(({ count }) => count);
      expect(counts.reduce((sum, count) => sum + count, 0)).toBe(meeting.answer.chosen);
      expect(counts).toEqual([...counts].sort((a, b) => b - a));
    }),
    { numRuns: 30, endOnFailure: true },
  );
  expect(met).toBeGreaterThan(5);
});

test('what waits at a gate is what stands there, with a condition that holds and a field blank, or only the time too short', () => {
  let waiting = 0;
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const answer = desk(list).waits(pairOf(ready, ready));
      const expected = ready.rules.lead.gates
        .filter(
          ({ on, requiredFields, minDays, minHours, decider }) =>
            on && (requiredFields.length + minDays + minHours > 0 || decider.kind !== 'rule'),
        )
        .map(({ key, from, parts, ready: whole, decider }) => {
          const wait = { field: 0, time: 0, person: 0 };
          for (const { record } of list) {
            if (record.standing.status !== 'open' || stood(ready, record) !== from) continue;
            const facts = gradeRecord(ready, record, WORLD, AS_OF).facts.withStage(from, false);
            if (judge(parts.when, facts) !== 'yes') continue;
            if (parts.filled.some((filled) => judge(filled, facts) !== 'yes')) wait.field += 1;
            else if (judge(whole, facts) !== 'yes') wait.time += 1;
            else if (decider.kind !== 'rule') wait.person += 1;
          }
          waiting += wait.field + wait.time + wait.person;
          return [key, wait] as const;
        });
      expect(answer).toEqual({ ok: true, answer: Object.fromEntries<object>(expected) });
    }),
    { numRuns: 40, endOnFailure: true },
  );
  expect(waiting).toBeGreaterThan(20);
});

test('how many a condition matches, how many are blank and which, as one finds by judging each', () => {
  fc.assert(
    fc.property(charter, records, condition, (ready, list, when) => {
      const here = desk(list);
      const signal = {
        kind: 'attribute' as const,
        key: 'asked',
        name: 'asked',
        axis: 'fit' as const,
        on: true,
        points: 1,
        group: null,
        when,
      };
      const draft: Charter = {
        ...ready.charter,
        scoreSets: [{ ...ready.charter.scoreSets.at(-1)!, on: true, when: { test: 'all', of: [] }, signals: [signal] }],
      };
      const pair = { inForce: ready.charter, draft };
      const found = here.match(pair, when, 'signal');
      const tally = here.tally(pair);
      if (!found.ok || !tally.ok) throw new Error('the condition suits its fields');
      expect(found.answer.ids).toHaveLength(Math.min(6, found.answer.yes));
      expect(found.answer.blank).toBeLessThanOrEqual(found.answer.yes);
      expect(tally.answer.signals['asked']).toEqual({ records: found.answer.yes, share: found.answer.yes > 0 ? 1 : 0 });
    }),
    { numRuns: 80, endOnFailure: true },
  );
});

test('routes: what each matches alone, and what those above leave for it', () => {
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const pair = pairOf(ready, ready);
      const [answer, inForce] = [desk(list).tally(pair), desk(list).taken(pair)];
      if (!answer.ok || !inForce.ok) throw new Error('the charter is sound');
      const taken = new Map<string, number>();
      let last = 0;
      for (const { record } of list) {
        const match = decide(ready, asNew(record), { ...WORLD, rota: emptyRota() }, 'created', AS_OF).routing?.match;
        if (match?.kind === 'matched') taken.set(match.route, (taken.get(match.route) ?? 0) + 1);
        if (match?.kind === 'none') last += 1;
      }
      for (const [key, { matches, takes }] of Object.entries(answer.answer.routes)) {
        expect([key, takes]).toEqual([key, taken.get(key) ?? 0]);
        expect(inForce.answer.routes[key]).toBe(takes);
        expect(matches).toBeGreaterThanOrEqual(takes);
      }
      expect([answer.answer.lastResort, inForce.answer.lastResort]).toEqual([last, last]);
    }),
    { numRuns: 60, endOnFailure: true },
  );
});

/** The charter with other points for the n-th signal of each set. */
const withOtherPoints = (from: Charter, n: number): Charter =>
  withSets(from, (set) => ({
    ...set,
    signals: set.signals.map((one, i) => (i === n ? { ...one, points: one.points === 7 ? 8 : 7 } : one)),
  }));

test('one desk asked again and again answers as a fresh one, whatever was asked before', () => {
  const reading = fc.constantFrom<ImpactReading>(
    { kind: 'came-in' },
    { kind: 'on-enact', reach: 'routes', scope: { which: 'all' } },
    { kind: 'on-enact', reach: 'score', scope: { which: 'touched', months: 2 } },
  );
  const asked = fc.array(fc.tuple(fc.nat(2), fc.nat(2), reading), { minLength: 2, maxLength: 5 });
  const others = fc.tuple(charter, charter, charter).map((three) => three.map((ready) => ready.charter));
  // As while one types: each differs in the points of one signal, so that most of what was counted stands.
  const edits = charter.map(({ charter: first }) => [first, withOtherPoints(first, 0), withOtherPoints(first, 1)]);
  fc.assert(
    fc.property(fc.oneof(others, edits), records, asked, (three, list, questions) => {
      const here = desk(list);
      for (const [before, after, how] of questions) {
        const pair = { inForce: three[before]!, draft: three[after]! };
        const fresh = desk(list);
        expect(here.impact(pair, how)).toEqual(fresh.impact(pair, how));
        expect(here.owners(pair, how)).toEqual(fresh.owners(pair, how));
        expect(here.tally(pair)).toEqual(fresh.tally(pair));
        expect(here.taken(pair)).toEqual(fresh.taken(pair));
      }
    }),
    { numRuns: 60, endOnFailure: true },
  );
});

/** The same charter, whose routes respect limits, and ignore them never. */
const heedingLimits = (ready: ReadyCharter): ReadyCharter => {
  const heeding = (said: NobodyFree | null | undefined): NobodyFree =>
    said?.kind === 'ignore-limits' ? { kind: 'wait' } : (said ?? { kind: 'wait' });
  const streams = ready.charter.streams.map((stream) => ({
    ...stream,
    nobodyFree: heeding(stream.nobodyFree),
    routes: stream.routes.map((route) => ({
      ...route,
      respects: { hours: route.respects?.hours ?? true, limit: true },
      nobodyFree: route.nobodyFree == null ? null : heeding(route.nobodyFree),
    })),
  }));
  return { ...ready, charter: { ...ready.charter, streams } };
};

test('open leads that nobody closes are the load of who owns them, and no load passes its limit', () => {
  let carried = 0;
  fc.assert(
    fc.property(busyCharter.map(heedingLimits), busyCharter.map(heedingLimits), records, (before, after, all) => {
      const list = all.map((one) => ({ ...one, closed: null }));
      const answer = desk(list).owners(pairOf(before, after), { kind: 'came-in' });
      if (!answer.ok) throw new Error('both charters are sound');
      const { owners, loads, course } = answer.answer;
      expect(loads.map(({ rep }) => rep)).toEqual([...WORLD.reps.keys()]);
      for (const load of loads) {
        for (const [side, end] of [['before', 'from'] as const, ['after', 'to'] as const]) {
          const owned = owners.flows.filter((flow) => flow[end] === `owner:${load.rep}`);
          expect(load[side]).toBe(owned.reduce((sum, { count }) => sum + count, 0));
          expect(load[side]).toBeLessThanOrEqual(load.limit ?? Infinity);
        }
      }
      expect(course.after).toBe(loads.reduce((sum, load) => sum + load.after, 0));
      carried += course.after;
    }),
    { numRuns: 60, endOnFailure: true },
  );
  expect(carried).toBeGreaterThan(100);
});

test('what names nothing that is there is said, and what reads withheld fields is asked for before it is counted', () => {
  const [list] = fc.sample(records, { numRuns: 1, seed: 3 });
  const [ready] = fc.sample(charter, { numRuns: 1, seed: 3 });
  const population = {
    ...encodePopulation(list!, FIELDS),
    withheld: new Map([['mail', 'all but the domain'] as const, ['words', 'all'] as const]),
  };
  const here = new ImpactDesk(population, WORLD, AS_OF);
  const happened = new Map([['mail_clicked', eventsFrom(list!.map(() => [AS_OF]))]]);
  const withEvents = new ImpactDesk({ ...population, events: happened }, WORLD, AS_OF);
  const pair = { inForce: ready!.charter, draft: { ...ready!.charter, lastResort: { lead: 'moon' as never } } };
  expect(here.impact(pair, { kind: 'came-in' })).toEqual({
    ok: false,
    problems: [{ path: '/lastResort/lead', message: 'no such queue: moon' }],
  });
  const asked = { test: 'starts-with' as const, subject: { kind: 'field' as const, field: 'mail' }, values: ['a@'] };
  const byDomain = {
    test: 'ends-with' as const,
    subject: { kind: 'field' as const, field: 'mail' },
    values: ['@fjord.example', 'example'],
  };
  const bare = {
    inForce: { ...ready!.charter, scoreSets: [], gates: [], streams: [] },
    draft: ready!.charter,
  };
  const missing = here.missing(
    { ...bare, draft: bare.inForce },
    [asked, byDomain, { test: 'blank', subject: { kind: 'field', field: 'words' } }],
    {
      kind: 'came-in',
    },
  );
  expect(missing).toEqual([
    { of: 'test', test: asked },
    { of: 'test', test: { test: 'blank', subject: { kind: 'field', field: 'words' } } },
  ]);
  const clicked = { kind: 'happened', activity: 'mail_clicked', having: HAVING, within: null } as const;
  const didSo = { test: 'range', subject: clicked, from: { at: '1', included: true }, to: null } as const;
  expect(withEvents.missing({ ...bare, draft: bare.inForce }, [didSo], { kind: 'came-in' })).toEqual([
    { of: 'activities', kind: 'mail_clicked', having: HAVING },
  ]);
  const gate = {
    ...{ key: 'g', name: 'g', from: 'new' as never, to: 'warm' as never, on: true, when: asked },
    requiredFields: [],
    minDays: 0,
    minHours: 0,
    effects: [],
    decider: BY_RULE,
  };
  const past = new ImpactDesk(population, WORLD, AS_OF, [{ number: 3, charter: { ...bare.inForce, gates: [gate] } }]);
  const enact = { kind: 'on-enact', reach: 'score', scope: { which: 'all' } } as const;
  const none = { ...bare, draft: bare.inForce };
  expect(past.missing(none, [], { kind: 'came-in' })).toEqual([]);
  expect(past.missing(none, [], enact)).toEqual([{ of: 'test', test: asked }]);
  here.give({ of: 'test', test: asked, yes: [1], unjudged: [] });
  expect(here.match({ ...bare, draft: bare.inForce }, asked, 'signal')).toMatchObject({
    ok: true,
    answer: { yes: 1, ids: [1] },
  });
});
