import {
  exclusionOf,
  FIRST_ROUTE,
  hasBit,
  NO_ROUTE,
  NOT_ROUTED,
  type MovingRecord,
  type PopulationRecord,
  type ReadyCharter,
  type Rep,
  type RepKey,
  replay,
  Resident,
  ROUTE_UNJUDGED,
  Sweep,
  type Swept,
  kindsFrom,
  STANDARD_KINDS,
  stagesOf,
} from '@relvik/core';
import { populationFromArrow, populationToArrow } from '@relvik/formats';
import { judgeOne, type Outcome } from './judge-one';
import { atLeast, atMost, type Figure, letGo, median, ratios, ROUNDS, timeOf } from './measure';
import { AS_OF, methodical, populationOf, RATES, ready, recordsOf, workingWorld, world } from './setting';

const CAME_IN = { kind: 'came-in' } as const;

/** What a sweep says of one record, as `judgeOne` says it. */
export function outcomeAt(swept: Swept, i: number): Outcome {
  const { scores, unscored, outcome, routes, stages, charter } = swept;
  const code = outcome[i] as number;
  const on = (axis: 'fit' | 'engagement'): number | null =>
    unscored[axis] !== null && hasBit(unscored[axis], i) ? null : (scores[axis][i] as number) / 100;
  return {
    fit: on('fit'),
    engagement: on('engagement'),
    stage: (stagesOf(charter.charter, 'lead')[stages.findIndex((bits) => hasBit(bits, i))] as { key: Outcome['stage'] })
      .key,
    route:
      code === NOT_ROUTED
        ? null
        : code === ROUTE_UNJUDGED
          ? 'unjudged'
          : code === NO_ROUTE
            ? 'none'
            : (routes[code - FIRST_ROUTE]?.key ?? null),
  };
}

export function residentOf(records: readonly PopulationRecord[]): Resident {
  return new Resident(
    populationOf(records),
    AS_OF,
    { timeZone: 'Europe/Oslo', baseCurrency: 'EUR' },
    { kinds: kindsFrom(STANDARD_KINDS), rates: RATES, teams: world().teams },
  );
}

/** A full sweep of records whose columns and indexes are there, as if the charter had never been seen. */
export function fullSweep(resident: Resident, charter: ReadyCharter): Swept {
  resident.forget();
  return new Sweep(resident, CAME_IN).run(charter);
}

function checkSame(a: Swept, b: Swept): void {
  const same =
    a.scores.fit.every((score, i) => score === b.scores.fit[i]) &&
    a.scores.engagement.every((score, i) => score === b.scores.engagement[i]) &&
    a.scores.cell.every((cell, i) => cell === b.scores.cell[i]) &&
    a.stages.every((bits, s) => bits.every((word, w) => word === b.stages[s]?.[w])) &&
    a.outcome.every((code, i) => code === b.outcome[i]);
  if (!same) throw new Error('The incremental sweep differs from the full one');
}

/** What the browser pays for: columns out of the Arrow stream; the records themselves end here, as there. */
function arriving(count: number): { bytes: Uint8Array; sample: readonly PopulationRecord<MovingRecord>[] } {
  const records = recordsOf(count);
  const bytes = populationToArrow(populationOf(records), {
    asOf: AS_OF,
    version: '1',
    past: [],
  });
  return { bytes, sample: records.slice(0, Math.min(count, 20_000)) };
}

/** Fields of the lead of the same types as those that the charter of the bench reads across a tie. */
const OWN = {
  'company.industry': 'industry',
  'company.key_account': 'by_hand',
  'company.size': 'employees',
  'contact.position': 'title',
};

function withoutTies<T>(part: T): T {
  let text = JSON.stringify(part);
  for (const [tied, own] of Object.entries(OWN)) text = text.replaceAll(`"${tied}"`, `"${own}"`);
  return JSON.parse(text) as T;
}

/** S2 to S4 for so many records, and owners by replay. */
export function sweepFigures(count: number): Figure[] {
  const figures: Figure[] = [];
  const charter = ready();
  console.log(`  making ${count.toLocaleString('en')} records …`);
  const { bytes, sample } = arriving(count);
  const name = count.toLocaleString('en');
  letGo();
  const residentAgain = (): Resident =>
    new Resident(
      populationFromArrow(bytes).population,
      AS_OF,
      { timeZone: 'Europe/Oslo', baseCurrency: 'EUR' },
      { kinds: kindsFrom(STANDARD_KINDS), rates: RATES, teams: world().teams },
    );
  let resident = residentAgain();
  const encode = timeOf(() => (resident = residentAgain()));
  const first = timeOf(() => new Sweep(resident, CAME_IN).run(charter));
  for (let i = 0; i < 3; i += 1) fullSweep(resident, charter);
  const full = Array.from({ length: ROUNDS }, () => timeOf(() => fullSweep(resident, charter)));
  console.log(
    `  encode ${encode.toFixed(0)} ms, first sweep with indexes ${first.toFixed(0)} ms, full sweep ${median(full).toFixed(1)} ms`,
  );
  if (count <= 100_000)
    figures.push(
      atMost(
        'S4',
        `encode and index ${name} records, in full sweeps of the same`,
        15,
        'sweeps',
        full.map((one) => (encode + first - one) / one),
      ),
    );

  const around = world();
  const swept = fullSweep(resident, charter);
  sample.forEach(({ record }, i) => {
    const one = judgeOne(charter, record, around, AS_OF);
    if (JSON.stringify(one) !== JSON.stringify(outcomeAt(swept, i)))
      throw new Error(`Record ${record.id}: sweep and judge differ`);
  });
  const perRecord = (): number =>
    (timeOf(() => sample.forEach(({ record }) => judgeOne(charter, record, around, AS_OF))) / sample.length) * count;
  figures.push(
    atLeast(
      'S2',
      `full sweep of ${name} against judge, one record at a time (timed on ${sample.length.toLocaleString('en')})`,
      count >= 1_000_000 ? 50 : 20,
      ratios(perRecord, () => timeOf(() => fullSweep(resident, charter))),
    ),
  );

  const ownOnly = ready((json) => {
    json.scoreSets = withoutTies(json.scoreSets);
    json.gates = withoutTies(json.gates);
    json.streams = withoutTies(json.streams);
  });
  fullSweep(resident, ownOnly);
  figures.push(
    atMost(
      'S2',
      `full sweep of ${name} with five tests across a tie, against the same on fields of the lead`,
      1.2,
      'sweeps',
      ratios(
        () => timeOf(() => fullSweep(resident, charter)),
        () => timeOf(() => fullSweep(resident, ownOnly)),
      ),
    ),
  );

  if (count >= 1_000_000) figures.push(...editFigures(resident, residentAgain(), charter, name));
  const people = world();
  replay(swept, resident, people);
  if (count <= 100_000)
    figures.push(
      atMost(
        'S3',
        `owners of ${name} by replay`,
        100,
        'ms',
        Array.from({ length: ROUNDS }, () => timeOf(() => replay(swept, resident, people))),
      ),
    );
  if (count <= 100_000) figures.push(methodFigure(resident, methodical(charter), name), eligibleFigure());
  return figures;
}

/** Owners with hours, holidays, skills, all methods, the next route where nobody is free, and owners of companies. */
function methodFigure(resident: Resident, charter: ReadyCharter, name: string): Figure {
  const swept = new Sweep(resident, { kind: 'came-in' }).run(charter);
  const people = workingWorld();
  replay(swept, resident, people);
  const times = Array.from({ length: ROUNDS }, () => timeOf(() => replay(swept, resident, people)));
  return atMost(
    'S3',
    `owners of ${name} by replay, with hours, skills, all methods and owners of companies`,
    300,
    'ms',
    times,
  );
}

/** Checks 2,000 people for one lead. */
function eligibleFigure(): Figure {
  const { reps, ...rest } = workingWorld();
  const [one] = reps.values();
  const many = new Map(
    Array.from({ length: 2000 }, (_, i) => {
      const key = `rep${i}` as RepKey;
      return [key, { ...(reps.get(`rep${i % 40}` as RepKey) ?? (one as Rep)), key }] as const;
    }),
  );
  const people = { ...rest, reps: many };
  const skills = [{ skill: 'trades', words: ['brewery'] }];
  let at = Date.parse('2026-03-02T09:00:00Z');
  const sieve = (): number => {
    let free = 0;
    // The next lead comes a second later.
    at += 1000;
    const demand = { at, respects: { hours: true, limit: true }, skills };
    for (const rep of many.values()) if (exclusionOf(rep, people, people.rota, demand) === null) free += 1;
    return free;
  };
  for (let lead = 0; lead < 1000; lead += 1) sieve();
  return atMost(
    'S3',
    'eligibility of 2,000 people for one lead, after a thousand leads',
    1,
    'ms',
    Array.from({ length: ROUNDS }, () => timeOf(sieve)),
  );
}

/**
 * S3: each round edits another value, so that nothing is found ready, by a whole point, so that scores are seen to change. The edits have a resident of their own: a full sweep has its
 * answers forgotten, which no one who types would meet.
 */
function editFigures(resident: Resident, edited: Resident, charter: ReadyCharter, name: string): Figure[] {
  const sweep = new Sweep(edited, CAME_IN);
  sweep.run(charter);
  let round = 0;
  const withPoints = (n: number): ReadyCharter =>
    ready((json) => Object.assign(json.scoreSets[0]?.signals[7] as object, { points: 6 + (n % 50) }));
  const withThreshold = (n: number): ReadyCharter =>
    ready((json) =>
      Object.assign(json.scoreSets[0]?.signals[7] as object, {
        when: {
          test: 'range',
          subject: { kind: 'field', field: 'employees' },
          from: { at: String(51 + (n % 40)), included: true },
          to: null,
        },
      }),
    );
  return (
    [
      ['one signal’s points', 15, withPoints],
      ['one signal’s threshold', 50, withThreshold],
    ] as const
  ).map(([what, goal, charterOf]) => {
    const edits: number[] = [];
    const edit = (): number => {
      round += 1;
      const next = charterOf(round);
      const took = timeOf(() => sweep.run(next));
      edits.push(took);
      return took;
    };
    // Both begin after a collection, which empties caches and lets go of compiled code: each is done once before it is timed.
    const seen = ratios(
      () => {
        fullSweep(resident, charterOf(round));
        return timeOf(() => fullSweep(resident, charterOf(round)));
      },
      () => {
        edit();
        return edit();
      },
    );
    checkSame(sweep.run(charterOf(round)), fullSweep(resident, charterOf(round)));
    console.log(`  ${what} edited: ${median(edits).toFixed(2)} ms`);
    return atLeast('S3', `${what} edited over ${name}, against a full sweep`, goal, seen);
  });
}
