import { readableIn } from '../charter/ready-charter';
import { standingStage } from '../gate/pipeline';
import { bindCondition } from '../condition/bind-condition';
import type { Condition } from '../condition/condition';
import { readKey } from '../condition/explain';
import type { RulePlace } from '../condition/scope';
import { type Problem, Spot } from '../document/problem';
import type { RouteFinding } from '../finding/finding';
import { routeFindings } from '../finding/route-findings';
import type { Instant, StageKey } from '../record/keys';
import { happeningKey } from '../activity/property-test';
import { type Bits, both, countBits, eachBit, hasBit, noBits, setBit, without } from '../column/bits';
import { eventsFrom } from '../column/events';
import type { Found, Lookup } from '../sweep/lookup';
import { type Population, testKey } from '../sweep/population';
import { type Placed, placesStored } from '../sweep/placed';
import { placeOnEnact, replay } from '../sweep/replay';
import type { Swept } from '../sweep/sweep';
import { conditionsIn } from '../charter/conditions-in';
import { missingAnswers } from '../sweep/withheld';
import type { World } from '../people/world';
import { stageFacet } from './facet';
import { type FieldValues, fieldValues } from './field-values';
import { type GateWaits, gateWaits, mayHoldBack } from './gate-waits';
import { compareOwners, compareSides, type Impact, type OwnerImpact } from './impact';
import { type Answered, Lines, type Pair, type PastCharter } from './lines';
import { type RuleTally, type Taken, takenByRoutes, tallyRules } from './rule-counts';
import type { EnactScope, ImpactReading } from './scope';
import type { Side } from './side';

/** How many records a condition holds for, and a few of them. */
export interface Match {
  readonly yes: number;
  readonly unjudged: number;
  /** Of those it holds for, how many are blank in some field it reads. */
  readonly blank: number;
  readonly ids: readonly number[];
}

const FEW = 6;

/** Open records that meet a gate already. */
export interface Meeting {
  readonly count: number;
  /** How many of them the scope chooses. */
  readonly chosen: number;
  /** The moves of those chosen, most frequent first. */
  readonly moves: readonly { readonly from: string; readonly to: string; readonly count: number }[];
  /** How many tasks gates make for those chosen, and of how many they make a deal. */
  readonly tasks: number;
  readonly deals: number;
  /** The first of them, by id, with the stages between which they would move. */
  readonly leads: readonly { readonly id: number; readonly from: string; readonly to: string }[];
}

const MOST_MEETING = 200;

/**
 * Answers what a draft does to a population, while one types.
 *
 * The same desk stands in a web worker of the browser and in a worker thread of the server.
 */
export class ImpactDesk {
  private readonly lines: Lines;
  private replayed: { readonly swept: Swept; readonly placed: Placed } | null = null;

  constructor(
    private readonly population: Population,
    private readonly world: World,
    private readonly asOf: Instant,
    private readonly past: readonly PastCharter[] = [],
  ) {
    this.lines = new Lines(population, world, asOf, past);
  }

  /** What has to be looked up first, since it is withheld from the population. */
  missing(pair: Pair, asked: readonly Condition[], reading: ImpactReading): Lookup[] {
    const past = reading.kind === 'on-enact' ? this.past.map(({ charter }) => charter) : [];
    const charters = [pair.inForce, pair.draft, ...past];
    const { kind } = this.population;
    return missingAnswers(
      [...charters.flatMap((charter) => conditionsIn(charter, kind)), ...asked],
      charters.flatMap(({ scoreSets }) => scoreSets.flatMap((set) => (set.of === kind ? set.signals : []))),
      this.population,
    );
  }

  /** Takes what was looked up. */
  give(found: Found): void {
    switch (found.of) {
      case 'test':
        this.population.given.set(testKey(found.test), {
          yes: this.recordsAt(found.yes),
          unjudged: found.unjudged.length === 0 ? null : this.recordsAt(found.unjudged),
        });
        return;
      case 'activities': {
        const times: Instant[][] = Array.from(this.population.ids, () => []);
        found.ids.forEach((id, i) => times[placeOf(this.population.ids, id)]?.push(found.at[i] as Instant));
        for (const own of times) own.sort((a, b) => b - a);
        this.population.events.set(happeningKey(found.kind, found.having), eventsFrom(times));
      }
    }
  }

  private recordsAt(ids: readonly number[]): Bits {
    const bits = noBits(this.population.size);
    for (const id of ids) {
      const place = placeOf(this.population.ids, id);
      if (place >= 0) setBit(bits, place);
    }
    return bits;
  }

  /** What changes in score, grade, stage and territory. */
  impact(pair: Pair, reading: ImpactReading): Answered<Impact> {
    const sides = this.lines.sides(pair, reading);
    if (!sides.ok) return sides;
    const { before, after, chosen } = sides.answer;
    return { ok: true, answer: compareSides(before, after, this.population.ids, chosen) };
  }

  /** What changes in owners, queues and the bay. */
  owners(pair: Pair, reading: ImpactReading): Answered<OwnerImpact> {
    const sides = this.lines.sides(pair, reading);
    if (!sides.ok) return sides;
    const { before, after, chosen, draft } = sides.answer;
    const answer = compareOwners(
      this.placedBefore(before, reading),
      this.placed(draft.swept, reading, chosen),
      after,
      this.population.ids,
      chosen,
      this.world,
    );
    return { ok: true, answer };
  }

  /**
   * The open records that meet a gate of the draft once it is in force: they move when next something happens to them, or
   * with the enacting, if gates are run.
   */
  meeting(pair: Pair, scope: EnactScope): Answered<Meeting> {
    const line = this.lines.line('draft', pair.draft, { kind: 'on-enact', reach: 'gates' });
    if (!line.ok) return line;
    const { size, ids, standing } = this.population;
    const chosen = this.lines.chosen(pair, { kind: 'on-enact', reach: 'gates', scope });
    const ends = stageFacet(line.answer.swept, size);
    const { stages } = line.answer.swept.rules;
    const stood = standing.keys.map((key) => standingStage(stages, key as StageKey));
    const meeting: { id: number; from: string; to: string }[] = [];
    const moves = new Map<string, { from: string; to: string; count: number }>();
    let among = 0;
    let count = 0;
    eachBit(standing.open, (i) => {
      const from = stood[(standing.stage[i] as number) - 1] ?? '';
      const to = ends.labels[ends.codes[i] as number] ?? '';
      if (to === '' || to === from) return;
      count += 1;
      if (hasBit(chosen, i)) {
        among += 1;
        const move = moves.get(`${from} ${to}`) ?? { from, to, count: 0 };
        move.count += 1;
        moves.set(`${from} ${to}`, move);
      }
      if (meeting.length < MOST_MEETING) meeting.push({ id: ids[i] as number, from, to });
    });
    const frequent = [...moves.values()].sort((a, b) => b.count - a.count || (a.from < b.from ? -1 : 1));
    const isMade = both(standing.open, chosen);
    const tasks = line.answer.swept.made.reduce(
      (sum, made) => sum + made.tasks * countBits(both(made.records, isMade)),
      0,
    );
    const made = noBits(size);
    for (const { deal, records } of line.answer.swept.made)
      if (deal) records.forEach((word, w) => (made[w] = (made[w] as number) | word));
    const deals = countBits(without(both(made, isMade), standing.dealt));
    return { ok: true, answer: { count, chosen: among, moves: frequent, tasks, deals, leads: meeting } };
  }

  /** What each rule of the draft comes to, as if all records came in. */
  tally(pair: Pair): Answered<RuleTally> {
    const line = this.lines.line('draft', pair.draft, { kind: 'came-in' });
    return line.ok ? { ok: true, answer: tallyRules(line.answer.sweep, line.answer.swept) } : line;
  }

  /** Counts the records that each route in force takes, as if all came in. */
  taken(pair: Pair): Answered<Taken> {
    const line = this.lines.line('in force', pair.inForce, { kind: 'came-in' });
    return line.ok ? { ok: true, answer: takenByRoutes(line.answer.swept) } : line;
  }

  /** Counts the records that a gate of the draft holds back although its condition holds, by gate. */
  waits({ draft }: Pair): Answered<Readonly<Record<string, GateWaits>>> {
    const asking = draft.gates.some(mayHoldBack);
    if (!asking) return { ok: true, answer: {} };
    const line = this.lines.line('draft', draft, { kind: 'on-enact', reach: 'score' });
    if (!line.ok) return line;
    const { sweep, swept } = line.answer;
    return { ok: true, answer: gateWaits(sweep, swept, this.population.standing.open) };
  }

  /** Findings in the routes of the draft. */
  findings({ draft }: Pair): readonly RouteFinding[] {
    return routeFindings(draft, this.world);
  }

  /** How many records a condition of the draft holds for, as if all came in. */
  match(pair: Pair, condition: Condition, place: RulePlace): Answered<Match> {
    const line = this.lines.line('draft', pair.draft, { kind: 'came-in' });
    if (!line.ok) return line;
    const problems: Problem[] = [];
    const scope = readableIn(pair.draft, this.world, place, this.population.kind);
    const ready = bindCondition(condition, scope, Spot.root(problems));
    if (problems.length > 0) return { ok: false, problems };
    const { sweep } = line.answer;
    const { yes, unjudged } = place === 'signal' ? sweep.answerBeforeGates(ready) : sweep.answerTo(ready);
    const ids: number[] = [];
    eachBit(yes, (i) => ids.push(this.population.ids[i] as number), FEW);
    return {
      ok: true,
      answer: {
        yes: countBits(yes),
        unjudged: unjudged === null ? 0 : countBits(unjudged),
        blank: this.blanksIn(condition, yes),
        ids,
      },
    };
  }

  /**
   * What the values of a field are in the data, most frequent first; for numbers and days their extent.
   *
   * @param base the currency in which amounts are compared
   */
  valuesOf(field: string, base: string): FieldValues {
    return fieldValues(field, this.population, this.world, base);
  }

  /** Of the records marked, those blank in a field that is asked with `not` holding for blanks. */
  private blanksIn(condition: Condition, yes: Bits): number {
    const blank = new Uint32Array(yes.length);
    for (const field of negatedFields(condition)) {
      const column = this.population.columns.get(field);
      if (column === undefined) continue;
      const blanks = column.kind === 'money' ? column.currencies.blanks() : column.blanks();
      for (let w = 0; w < blank.length; w += 1) blank[w] = (blank[w] as number) | (blanks[w] as number);
    }
    for (let w = 0; w < blank.length; w += 1) blank[w] = (blank[w] as number) & (yes[w] as number);
    return countBits(blank);
  }

  private placed(swept: Swept, reading: ImpactReading, chosen: Bits): Placed {
    return reading.kind === 'came-in'
      ? replay(swept, this.lines.resident(swept.charter.charter), this.world)
      : placeOnEnact(swept, this.population, this.world, this.world.rota, chosen, reading.reach, this.asOf);
  }

  /** On enact as they are stored; else by the charter in force, which seldom changes. */
  private placedBefore(before: Side, reading: ImpactReading): Placed {
    if (reading.kind === 'on-enact') return placesStored(this.population, this.world, this.world.rota);
    const { swept } = before.parts[0].account;
    if (this.replayed?.swept !== swept) this.replayed = { swept, placed: this.placed(swept, reading, noBits(0)) };
    return this.replayed.placed;
  }
}

/** Where an id stands among ascending ones; −1: nowhere. */
function placeOf(ids: Uint32Array, id: number): number {
  let low = 0;
  let high = ids.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((ids[middle] as number) < id) low = middle + 1;
    else high = middle;
  }
  return ids[low] === id ? low : -1;
}

/** Fields whose blanks a condition lets pass: those under an odd number of `not`. */
function negatedFields(condition: Condition, negated = false, into = new Set<string>()): Set<string> {
  switch (condition.test) {
    case 'all':
    case 'any':
      for (const part of condition.of) negatedFields(part, negated, into);
      return into;
    case 'not':
      return negatedFields(condition.of, !negated, into);
    default:
      return negated && condition.test !== 'blank' ? into.add(readKey(condition)) : into;
  }
}
