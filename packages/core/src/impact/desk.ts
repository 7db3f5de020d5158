import { bindCondition } from '../condition/bind-condition';
import type { Condition } from '../condition/condition';
import type { Charter } from '../charter/charter';
import { type Problem, Spot } from '../document/problem';
import { bindCharter, readableIn, type RulePlace, type ReadyCharter } from '../charter/ready-charter';
import type { Instant } from '../record/keys';
import { happeningKey } from '../score/property-test';
import { type Bits, countBits, eachBit, noBits, setBit } from '../sweep/bits';
import { eventsFrom } from '../sweep/events';
import type { Found, Lookup } from '../sweep/lookup';
import type { Population } from '../sweep/population';
import { type Placed, placeOnEnact, replay } from '../sweep/replay';
import { Resident } from '../sweep/resident';
import { Sweep, type Swept } from '../sweep/sweep';
import { conditionsIn, missingAnswers } from '../sweep/withheld';
import type { World } from '../world';
import { type SweptAccount, accountOf, compareOwners, compareSweeps, type Impact, type OwnerImpact } from './impact';
import { type RuleTally, tallyRules } from './rule-counts';
import { chosenBy, type ImpactReading } from './scope';

/** The charter in force and the draft held against it; without a draft both are the same. */
export interface Pair {
  readonly inForce: Charter;
  readonly draft: Charter;
}

export type Answered<T> =
  | { readonly ok: true; readonly answer: T }
  /** The draft can't be swept: what it names is not there. */
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** How many records a condition holds for, and a few of them. */
export interface Match {
  readonly yes: number;
  readonly unjudged: number;
  /** Of those it holds for, how many are blank in some field it reads. */
  readonly blank: number;
  readonly ids: readonly number[];
}

const FEW = 6;

/** Who is swept, and how: each charter keeps a sweep of its own, so that an edit computes only what it touches. */
interface Line {
  readonly sweep: Sweep;
  /** The charter last swept, as text: what comes from another thread is a copy each time. */
  readonly text: string;
  readonly ready: ReadyCharter;
  readonly swept: Swept;
  account: SweptAccount | null;
}

/**
 * Answers what a draft does to a population, while one types.
 *
 * The same desk stands in a web worker of the browser and in a worker thread of the server.
 */
export class ImpactDesk {
  private readonly residents = new Map<string, Resident>();
  private readonly lines = new Map<string, Line>();
  private replayed: { readonly key: string; readonly placed: Placed } | null = null;

  constructor(
    private readonly population: Population,
    private readonly world: World,
    private readonly asOf: Instant,
  ) {}

  /** What has to be looked up first, since it is withheld from the population. */
  missing(pair: Pair, asked: readonly Condition[]): Lookup[] {
    return missingAnswers(
      [...conditionsIn(pair.inForce), ...conditionsIn(pair.draft), ...asked],
      [...pair.inForce.scoreSets, ...pair.draft.scoreSets].flatMap((set) => (set.of === 'lead' ? set.signals : [])),
      this.population,
    );
  }

  /** Takes what was looked up. */
  give(found: Found): void {
    switch (found.of) {
      case 'test':
        this.population.given.set(JSON.stringify(found.test), {
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
    const lines = this.both(pair, reading);
    if (!lines.ok) return lines;
    const [before, after] = lines.answer;
    return {
      ok: true,
      answer: compareSweeps(this.account(before), this.account(after), this.population.ids, this.chosen(pair, reading)),
    };
  }

  /** What changes in owners, queues and the bay. */
  owners(pair: Pair, reading: ImpactReading): Answered<OwnerImpact> {
    const lines = this.both(pair, reading);
    if (!lines.ok) return lines;
    const [before, after] = lines.answer;
    const chosen = this.chosen(pair, reading);
    const answer = compareOwners(
      this.placedInForce(before, reading, chosen),
      this.placed(after, reading, chosen),
      after.swept,
      this.population.ids,
      chosen,
      this.world,
    );
    return { ok: true, answer };
  }

  /** What each rule of the draft comes to, as if all records came in. */
  tally(pair: Pair): Answered<RuleTally> {
    const line = this.line('draft', pair.draft, { kind: 'came-in' });
    return line.ok ? { ok: true, answer: tallyRules(line.answer.sweep, line.answer.swept, line.answer.ready) } : line;
  }

  /** How many records a condition of the draft holds for, as if all came in. */
  match(pair: Pair, condition: Condition, place: RulePlace): Answered<Match> {
    const line = this.line('draft', pair.draft, { kind: 'came-in' });
    if (!line.ok) return line;
    const problems: Problem[] = [];
    const scope = readableIn(pair.draft, this.world.fields, place);
    const ready = bindCondition(condition, scope, Spot.root(problems));
    if (problems.length > 0) return { ok: false, problems };
    const { yes, unjudged } = line.answer.sweep.answerTo(ready);
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

  /** What the values of a field are in the data, most frequent first; for numbers and days their extent. */
  valuesOf(field: string): FieldValues {
    const column = this.population.columns.get(field);
    if (column === undefined) return { values: [], extent: null, filled: 0 };
    const codes = column.kind === 'money' ? column.currencies : column.kind === 'codes' ? column : null;
    const values =
      codes === null ? [] : codes.counts().map((count, d) => ({ value: codes.dictionary[d] ?? '', count }));
    values.sort((a, b) => b.count - a.count);
    const extent =
      column.kind === 'money' ? column.amounts.extent() : column.kind === 'numbers' ? column.extent() : null;
    const blanks = column.kind === 'money' ? column.currencies.blanks() : column.blanks();
    return { values: values.slice(0, 300), extent, filled: this.population.size - countBits(blanks) };
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

  private both(pair: Pair, reading: ImpactReading): Answered<readonly [Line, Line]> {
    const before = this.line('in force', pair.inForce, reading);
    if (!before.ok) return before;
    const after = this.line('draft', pair.draft, reading);
    return after.ok ? { ok: true, answer: [before.answer, after.answer] } : after;
  }

  private line(of: 'in force' | 'draft', charter: Charter, reading: ImpactReading): Answered<Line> {
    const key = `${of} ${reading.kind === 'came-in' ? 'came-in' : reading.reach} ${charter.timeZone}`;
    const text = JSON.stringify(charter);
    const line = this.lines.get(key);
    // Of the two charters mostly one changes: the other stands as it was swept.
    if (line?.text === text) return { ok: true, answer: line };
    const binding = bindCharter(charter, this.world);
    if (!binding.ok) return { ok: false, problems: binding.problems };
    const { ready } = binding;
    const sweep = line?.sweep ?? new Sweep(this.resident(charter.timeZone), reading);
    const made: Line = { sweep, text, ready, swept: sweep.run(ready), account: null };
    this.lines.set(key, made);
    return { ok: true, answer: made };
  }

  private account(line: Line): SweptAccount {
    return (line.account ??= accountOf(line.swept, this.population.size));
  }

  private resident(zone: string): Resident {
    let resident = this.residents.get(zone);
    if (resident === undefined) {
      resident = new Resident(this.population, this.asOf, zone, this.world.kinds);
      this.residents.set(zone, resident);
    }
    return resident;
  }

  private chosen({ draft }: Pair, reading: ImpactReading): Bits {
    const { everyone } = this.resident(draft.timeZone);
    if (reading.kind === 'came-in') return everyone;
    return chosenBy(reading.scope, this.population, everyone, this.asOf, draft.timeZone);
  }

  private placed({ swept, ready }: Line, reading: ImpactReading, chosen: Bits): Placed {
    return reading.kind === 'came-in'
      ? replay(swept, this.resident(ready.charter.timeZone), this.world)
      : placeOnEnact(swept, this.population, this.world, this.world.rota, chosen, reading.reach);
  }

  /** The same for the charter in force, which seldom changes. */
  private placedInForce(line: Line, reading: ImpactReading, chosen: Bits): Placed {
    const key = `${JSON.stringify(reading)} ${line.text}`;
    if (this.replayed?.key !== key) this.replayed = { key, placed: this.placed(line, reading, chosen) };
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

/** The values of a field as they are in the data. */
export interface FieldValues {
  /** Folded texts or currencies with how many records have each; the first 300. */
  readonly values: readonly { readonly value: string; readonly count: number }[];
  /** Smallest and largest number, scaled, or day since 1970. */
  readonly extent: readonly [least: number, most: number] | null;
  readonly filled: number;
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
      return negated && condition.test !== 'blank' ? into.add(condition.field) : into;
  }
}
