import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import { condition, FIELDS } from '../condition/conditions.fixture';
import { bindCondition } from '../condition/bind-condition';
import { judge } from '../condition/judge';
import { Spot } from '../charter/problem';
import { appraise } from '../decide';
import type { Appraisal } from '../decision';
import { LeadFacts } from '../facts';
import type { LeadRecord, Occasion } from '../record/record';
import { hasBit } from './bits';
import { type PopulationRecord } from './encode';
import { Resident } from './resident';
import { FIRST_ROUTE, NO_ROUTE, NOT_ROUTED, ROUTE_UNJUDGED } from './route-sweep';
import { HUNDREDTHS } from './scores';
import { AS_OF, charter, RATES, records, WORLD, populationOf } from './sweep.fixture';
import { type Reach, type Reading, Sweep, type Swept } from './sweep';

const ZONE = 'Europe/Oslo';

function resident(list: readonly PopulationRecord[]): Resident {
  return new Resident(populationOf(list), AS_OF, ZONE, KINDS);
}

/** What the sweep says of one record. */
function sweptOf(swept: Swept, i: number) {
  const { scores, unscored, charter: ready } = swept;
  const scoreOn = (axis: 'fit' | 'engagement') => {
    const open = unscored[axis];
    return open !== null && hasBit(open, i) ? 'unjudged' : (scores[axis][i] ?? NaN) / HUNDREDTHS;
  };
  const { fit, engagement } = ready.charter.scoreSet.grid;
  const cell = scores.cell[i] ?? 0;
  const columns = engagement.names.length;
  expect(scores.cells.map((bits) => hasBit(bits, i)).indexOf(true)).toBe(cell);
  const stages = ready.charter.stages.filter((_, s) => hasBit(swept.stages[s]!, i));
  expect(stages).toHaveLength(1);
  const outcome = swept.outcome[i] ?? NaN;
  return {
    fit: scoreOn('fit'),
    engagement: scoreOn('engagement'),
    grade:
      cell === 0 ? null : `${fit.names[Math.floor((cell - 1) / columns)]} ${engagement.names[(cell - 1) % columns]}`,
    stage: stages[0]?.key,
    loop: hasBit(swept.loop, i),
    open: hasBit(swept.open, i),
    territory: swept.territory.dictionary[(swept.territory.codes[i] ?? 0) - 1] ?? null,
    route: outcome < FIRST_ROUTE ? outcome : swept.routes[outcome - FIRST_ROUTE]?.key,
  };
}

/** What the one-record way says. */
function appraisedOf({
  score,
  grade,
  stage,
  gates,
  status,
  territory,
  routing,
}: Appraisal): ReturnType<typeof sweptOf> {
  const match = routing?.match;
  return {
    fit: score.fit.judged ? score.fit.score : 'unjudged',
    engagement: score.engagement.judged ? score.engagement.score : 'unjudged',
    grade: grade?.name ?? null,
    stage,
    loop: gates.loop,
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

const asNew = (record: LeadRecord): LeadRecord => ({
  ...record,
  status: 'open',
  stage: null,
  place: null,
  looks: new Map(),
});
const ON_ENACT: Readonly<Record<Reach, Occasion>> = { score: 'enacted', gates: 'regated', routes: 'rerouted' };
const READINGS: readonly Reading[] = [
  { kind: 'came-in' },
  { kind: 'on-enact', reach: 'score' },
  { kind: 'on-enact', reach: 'gates' },
  { kind: 'on-enact', reach: 'routes' },
];

test.each(READINGS)('the sweep, read %j, says of every record what the one-record way says', (reading) => {
  fc.assert(
    fc.property(charter, records, (ready, list) => {
      const swept = new Sweep(resident(list), reading).run(ready);
      list.forEach(({ record }, i) => {
        const one =
          reading.kind === 'came-in'
            ? appraise(ready, asNew(record), WORLD, 'created', AS_OF)
            : appraise(ready, record, WORLD, ON_ENACT[reading.reach], AS_OF);
        expect([i, sweptOf(swept, i)]).toEqual([i, appraisedOf(one)]);
      });
    }),
    { numRuns: 100 },
  );
});

test.each(READINGS)('a sweep that went from charter to charter, read %j, is the same as a new one', (reading) => {
  const change = fc.constantFrom('all', 'signals', 'grid', 'gates', 'streams', 'territories');
  const part = (from: ReadyCharter, to: ReadyCharter, what: string): ReadyCharter => {
    switch (what) {
      case 'signals':
        return withParts(
          from,
          { scoreSet: { ...from.charter.scoreSet, signals: to.charter.scoreSet.signals } },
          { scoreSet: { ...from.scoreSet, signals: to.scoreSet.signals } },
        );
      case 'grid':
        return withParts(
          from,
          { scoreSet: { ...from.charter.scoreSet, grid: to.charter.scoreSet.grid } },
          { scoreSet: { ...from.scoreSet, grid: to.scoreSet.grid } },
        );
      case 'gates':
        return withParts(from, { gates: to.charter.gates }, { gates: to.gates });
      case 'streams':
        return withParts(from, { streams: to.charter.streams }, { streams: to.streams });
      case 'territories':
        return withParts(from, { territories: to.charter.territories }, { coverage: to.coverage });
      default:
        return to;
    }
  };
  fc.assert(
    fc.property(
      records,
      charter,
      fc.array(fc.tuple(charter, change), { minLength: 1, maxLength: 4 }),
      (list, first, steps) => {
        const here = resident(list);
        const going = new Sweep(here, reading);
        let at = first;
        going.run(at);
        for (const [next, what] of steps) {
          at = part(at, next, what);
          const swept = going.run(at);
          const anew = new Sweep(resident(list), reading).run(at);
          for (let i = 0; i < list.length; i += 1) expect([i, sweptOf(swept, i)]).toEqual([i, sweptOf(anew, i)]);
        }
      },
    ),
    { numRuns: 50 },
  );
});

function withParts(ready: ReadyCharter, charterPart: object, readyPart: object): ReadyCharter {
  return { ...ready, charter: { ...ready.charter, ...charterPart }, ...readyPart };
}

test('a condition over columns says yes, no and unjudged where judge does', () => {
  fc.assert(
    fc.property(condition, records, (when, list) => {
      const ready = bindCondition(when, { fields: FIELDS, baseCurrency: 'EUR' }, Spot.root([]));
      const mask = resident(list).answerTo(ready);
      list.forEach(({ record }, i) => {
        const setting = { charter: { baseCurrency: 'EUR', timeZone: ZONE } } as ReadyCharter;
        const swept = hasBit(mask.yes, i)
          ? 'yes'
          : mask.unjudged !== null && hasBit(mask.unjudged, i)
            ? 'unjudged'
            : 'no';
        expect([i, swept]).toEqual([i, judge(ready, LeadFacts.of(record, RATES, setting, AS_OF))]);
      });
    }),
    { numRuns: 200 },
  );
});
