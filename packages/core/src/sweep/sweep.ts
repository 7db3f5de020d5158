import type { ReadyCharter, ReadyRules } from '../charter/ready-charter';
import type { Axis } from '../signal/signal';
import { type Bits, noBits, setBit, wordsIn } from '../column/bits';
import type { Share } from './axis-sums';
import { Chunk, CHUNK, eachChunk, loadWords } from './chunk';
import { CodeColumn, type NumberColumn } from '../column/column';
import type { ReadyCondition } from '../condition/ready';
import { countMask, type Mask } from '../column/mask';
import { enteringAt, standingIn } from './gate-starts';
import { GateSweep, type MadeByGate } from './gate-sweep';
import { cellWords, type GatePlan, planKey, planned, type RoutePlan } from './plan';
import type { Population } from './population';
import type { GateChanges } from './gate-changes';
import { type Asking, type PlacedRoute, RouteSweep, routesOf } from './route-sweep';
import type { Resident } from './resident';
import { type GradeCell, gradeCells, NO_CELL } from './grade-cells';
import { type Scored, ScoreSweep, type SweptSet, type Unscored } from './score-sweep';
import type { Scores, ScoreWatcher } from './scores';
import { termOf, type TermSetting } from './term';
import { territoryColumn } from './territory-column';
import type { TerritoryColumn } from './territory-columns';

/** Whether gates that ask move by themselves, as if all that they ask were accepted. Missing: they ask. */
export interface Accepting {
  readonly accepted?: boolean;
}

/** From where the records begin, and how far they go. */
export type Reading = Accepting &
  /** As if all came in: entry stage, no owner, no looks. */
  (
    | { readonly kind: 'came-in' }
    /** As they are stored, when a charter comes into force. */
    | { readonly kind: 'on-enact'; readonly reach: Reach }
  );

/** How far enacting goes: score and grade; and gates; and gates and routes. */
export const REACHES = ['score', 'gates', 'routes'] as const;
export type Reach = (typeof REACHES)[number];

type Setting = Omit<TermSetting, 'watcher' | 'changes'>;

/** What a charter makes of all records. The arrays stay the sweep's: they change with its next run. */
export interface Swept {
  readonly charter: ReadyCharter;
  /** The rules of it for this kind of record. */
  readonly rules: ReadyRules;
  /** Of each record by the set that grades it. */
  readonly scores: Scores;
  readonly unscored: Unscored;
  /** The score sets that are on, in their order, each over the records it admits. */
  readonly sets: readonly SweptSet[];
  /** What the cells of `scores` stand for, from cell 1 on; the one after them is that of records that no set admits. */
  readonly grades: readonly GradeCell[];
  /** For each stage of the charter the records that end in it. */
  readonly stages: readonly Bits[];
  readonly loop: Bits;
  /** Records about which gates ask a person anew. */
  readonly asked: Bits;
  /** Records for which gates make tasks and deals. */
  readonly made: readonly MadeByGate[];
  readonly gateUnjudged: Bits;
  readonly territory: CodeColumn;
  /** By record; see route-sweep. */
  readonly outcome: Uint16Array;
  readonly routes: readonly PlacedRoute[];
  /** Where some route says *next route*: what each entry and route says by itself; null: none does. */
  readonly asking: readonly Asking[] | null;
  /** The values that gates change. */
  readonly changes: GateChanges;
  /** Records that are still open at the end of the way. */
  readonly open: Bits;
}

/**
 * One charter over all records, by columns: signals, grades, gates, territories and routes.
 *
 * A second run with a changed charter computes only what the change touches. Its outcome is the same, bit for bit, as that
 * of a new sweep, and for every record the same as `appraise`.
 */
export class Sweep {
  private readonly scoring: ScoreSweep;
  private readonly open: Bits;
  private readonly owners: CodeColumn | null;
  private readonly entered: NumberColumn;
  private gateKey = '';
  private routeKey = '';
  private gates: GateSweep | null = null;
  private routes: RouteSweep | null = null;
  private last: {
    readonly setting: Setting;
    readonly scored: Scored;
    readonly gates: GateSweep;
  } | null = null;

  constructor(
    private readonly resident: Resident,
    private readonly reading: Reading,
  ) {
    const { size } = resident.population;
    this.scoring = new ScoreSweep(resident);
    this.open = noBits(size);
    const { standing } = resident.population;
    const cameIn = reading.kind === 'came-in';
    this.owners = cameIn ? null : new CodeColumn(standing.owner, standing.keys, null);
    this.entered = resident.instants(cameIn ? 'arrived' : 'entered');
  }

  private get population(): Population {
    return this.resident.population;
  }

  run(charter: ReadyCharter): Swept {
    const rules = charter.rules[this.population.kind];
    const scored = this.scoring.run(rules.scoreSets);
    const { scores } = scored;
    const grades = gradeCells(scored.sets.map(({ set }) => set));
    const { column: territory, number: territories } = this.territoryOf(charter);
    const plan: GatePlan = {
      stages: rules.stages.map((stage) => stage.key),
      mergedFrom: rules.stages.map(({ mergedFrom }) => mergedFrom),
      entryStages: [...rules.entries],
      closing: rules.stages.flatMap((stage, s) => (stage.kind === 'open' ? [] : [s])),
      gates: rules.gates.map(planned.gate),
      cells: cellWords(grades),
      entries: scored.entries,
      territories,
    };
    const { stages, cells } = plan;
    const setting: Setting = {
      resident: this.resident,
      cells,
      none: scored.none,
      stages,
      territory,
      owners: this.owners,
      entered: this.entered,
      timeless: this.reading.kind === 'came-in',
      scores,
      sets: scored.sets,
    };
    const gates = this.gatesOf(plan, setting);
    const routes = this.routesOf({ streams: rules.streams.map(planned.stream) }, setting, gates);
    const gateDirt = gates.fresh ? this.resident.everyone : movedIn(scored);
    const routeDirt = routes.fresh ? this.resident.everyone : gateDirt;
    this.walk(plan, scored, gates.sweep, routes.sweep, gateDirt, routeDirt);
    this.last = { setting, scored, gates: gates.sweep };
    return {
      charter,
      rules,
      scores,
      unscored: scored.unscored,
      sets: scored.sets,
      grades,
      stages: gates.sweep.ends,
      loop: gates.sweep.loop,
      asked: gates.sweep.asked,
      made: gates.sweep.made,
      gateUnjudged: gates.sweep.unjudged,
      territory,
      outcome: routes.sweep.outcome,
      routes: routesOf(rules.streams),
      asking: routes.sweep.asking,
      changes: gates.sweep.changes,
      open: this.open,
    };
  }

  /** How much a signal of a set gives over the records it admits; of the last run. */
  shareOf({ set, admitted }: SweptSet, axis: Axis, signal: string): Share {
    return this.scoring.shareOf(set.key, axis, signal, admitted);
  }

  /**
   * What a condition says of every record, with scores, stages and territories as the last run left them.
   *
   * @param condition bound where routes are: it may read all that was computed
   */
  answerTo(condition: ReadyCondition): Mask {
    const { last } = this;
    if (last === null) throw new Error('Nothing was swept yet');
    const { ends, moved: movedAll, changes } = last.gates;
    const term = termOf(condition, { ...last.setting, changes, watcher: 'asked' });
    if (term.kind === 'mask') return term.mask;
    const { size } = this.population;
    const mask = { yes: noBits(size), unjudged: noBits(size) };
    const stages = ends.map(() => new Uint32Array(CHUNK));
    const moved = new Uint32Array(CHUNK);
    const chunk = this.chunkOver(last.scored, stages, moved);
    eachChunk(wordsIn(this.resident.everyone), (words) => {
      chunk.moveTo(words);
      loadWords([...ends, movedAll], words, [...stages, moved]);
      const { yes, unjudged } = chunk.ask(term);
      mask.yes.set(yes.subarray(0, words.length), words[0]);
      mask.unjudged.set(unjudged.subarray(0, words.length), words[0]);
    });
    unwatch(last.setting, 'asked');
    return mask;
  }

  /** The answers of a condition for all records, by the values before gates change any: those that scores read. */
  answerBeforeGates(condition: ReadyCondition): Mask {
    return this.resident.answerTo(condition);
  }

  /** How many records a condition holds for, and how many it can't judge. */
  countOf(condition: ReadyCondition): ReturnType<typeof countMask> {
    return countMask(this.answerTo(condition));
  }

  private chunkOver({ scores, unscored, sets }: Scored, stages: readonly Uint32Array[], moved: Uint32Array): Chunk {
    return new Chunk({ everyone: this.resident.everyone, scores, unscored, sets }, stages, moved);
  }

  private territoryOf({ charter: { territories }, coverage }: ReadyCharter): TerritoryColumn {
    return this.resident.territories.of(territories, () => territoryColumn(this.population, territories, coverage));
  }

  private gatesOf(plan: GatePlan, setting: Setting): { readonly sweep: GateSweep; readonly fresh: boolean } {
    const key = planKey(plan);
    if (this.gates !== null && key === this.gateKey) return { sweep: this.gates, fresh: false };
    this.gateKey = key;
    unwatch(setting, 'gates');
    const { population, resident } = this;
    const cameIn = this.reading.kind === 'came-in';
    const starts = cameIn ? enteringAt(population, resident.everyone, plan) : standingIn(population, plan);
    const looks = cameIn ? new Map<string, Bits>() : population.standing.looks;
    const { accepted = false } = this.reading;
    this.gates = new GateSweep(plan, starts, looks, this.movable(), { ...setting, watcher: 'gates' }, accepted);
    return { sweep: this.gates, fresh: true };
  }

  private movable(): Bits {
    if (this.reading.kind === 'came-in') return this.resident.everyone;
    return this.reading.reach === 'score' ? noBits(this.population.size) : this.population.standing.open;
  }

  private routesOf(
    plan: RoutePlan,
    setting: Setting,
    gates: { readonly sweep: GateSweep; readonly fresh: boolean },
  ): { readonly sweep: RouteSweep; readonly fresh: boolean } {
    const key = planKey(plan);
    if (this.routes !== null && !gates.fresh && key === this.routeKey) return { sweep: this.routes, fresh: false };
    this.routeKey = key;
    unwatch(setting, 'routes');
    this.routes = new RouteSweep(plan, { ...setting, changes: gates.sweep.changes, watcher: 'routes' });
    return { sweep: this.routes, fresh: true };
  }

  /** Takes the words that may have changed through gates and routes, a chunk at a time. */
  private walk(
    { closing }: GatePlan,
    scored: Scored,
    gates: GateSweep,
    routes: RouteSweep,
    gateDirt: Bits,
    routeDirt: Bits,
  ): void {
    const stages = gates.ends.map(() => new Uint32Array(CHUNK));
    const moved = new Uint32Array(CHUNK);
    const chunk = this.chunkOver(scored, stages, moved);
    const routable = new Uint32Array(CHUNK);
    eachChunk(wordsIn(gateDirt), (words) => {
      chunk.moveTo(words);
      gates.pass(chunk);
    });
    eachChunk(wordsIn(routeDirt), (words) => {
      chunk.moveTo(words);
      loadWords([...gates.ends, gates.moved], words, [...stages, moved]);
      this.findRoutable(words, scored, gates, routes, stages, closing, routable);
      routes.match(chunk, routable, stages);
    });
  }

  /** Who is routed: judged, open, and standing where a stream acts; on enact only who has no owner. */
  private findRoutable(
    words: Uint32Array,
    { scores }: Scored,
    gates: GateSweep,
    routes: RouteSweep,
    stages: readonly Uint32Array[],
    out: readonly number[],
    routable: Uint32Array,
  ): void {
    const { reading, resident, open } = this;
    const { standing } = this.population;
    const unjudged = scores.cells[NO_CELL] as Bits;
    const { entering } = routes;
    for (let k = 0; k < words.length; k += 1) {
      const w = words[k] as number;
      let closed = 0;
      for (const s of out) closed |= (stages[s] as Uint32Array)[k] as number;
      // Whoever stood there before was not disqualified by it now.
      open[w] =
        reading.kind === 'came-in'
          ? (resident.everyone[w] as number) & ~closed
          : (standing.open[w] as number) & ~(closed & ~gates.begunIn(out, w));
      let entered = 0;
      for (const s of entering) entered |= (stages[s] as Uint32Array)[k] as number;
      const judged = ~((unjudged[w] as number) | (gates.loop[w] as number) | (gates.unjudged[w] as number));
      const here = reading.kind === 'came-in' ? -1 : reading.reach === 'routes' ? (this.unowned[w] as number) : 0;
      routable[k] = entered & judged & open[w] & here;
    }
  }

  private ownerless: Bits | null = null;

  /** Records that have no owner as they are stored. */
  private get unowned(): Bits {
    if (this.ownerless !== null) return this.ownerless;
    const { owner } = this.population.standing;
    const bits = noBits(owner.length);
    for (let i = 0; i < owner.length; i += 1) if (owner[i] === 0) setBit(bits, i);
    this.ownerless = bits;
    return bits;
  }
}

/** Records of which any score that a condition may ask about moved. */
function movedIn({ scores, sets }: Scored): Bits {
  const others = sets.filter((set) => set.scores !== scores);
  if (others.length === 0) return scores.moved;
  const moved = scores.moved.slice();
  for (const set of others)
    for (let w = 0; w < moved.length; w += 1) moved[w] = (moved[w] as number) | (set.scores.moved[w] as number);
  return moved;
}

function unwatch({ scores, sets }: Setting, by: ScoreWatcher): void {
  scores.unwatch(by);
  for (const set of sets) set.scores.unwatch(by);
}
