import { type Account, explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { DealRule } from '../deal/deal-rule';
import { judge } from '../condition/judge';
import type { ReadyCondition } from '../condition/ready';
import type { StageKey } from '../record/keys';
import type { Look } from '../record/record';
import type { TaskRule } from '../task/task';
import { changesAfter, type GateChange, realChanges, type ReadyEffect } from './effect';
import { type Gate, leastTest } from './gate';

export type ReadyGate = Omit<Gate, 'effects'> & {
  /** The values that it changes. */
  readonly effects: readonly ReadyEffect[];
  /** The tasks that it makes. */
  readonly tasks: readonly TaskRule[];
  /** The deal that it makes; null: none. */
  readonly deal: DealRule | null;
  /** Its condition, required fields and time together. */
  readonly ready: ReadyCondition;
  readonly parts: { readonly when: ReadyCondition; readonly filled: readonly ReadyCondition[] };
  readonly alternatives: readonly { readonly to: StageKey; readonly ready: ReadyCondition }[];
  /** Its {@link lookKey}. */
  readonly look: string;
};

/** Most moves on one occasion. */
export const MOST_MOVES = 20;

export type GateAnswer =
  /** The condition became true here: the record moves. */
  | 'moves'
  /** The condition became true here: a person is asked. */
  | 'asks'
  /** All holds, and it is for a person to move the record. */
  | 'for-a-person'
  /** It was already true at the last look: nothing happens. */
  | 'was-true'
  /** It held at the last decision already: time alone lets nothing through. */
  | 'held-before'
  | 'no'
  /** Its condition holds, but a field that must be filled is blank. */
  | 'waits-for-field'
  /** All holds but the time in the stage. */
  | 'waits-for-time'
  | 'unjudged'
  /** It holds, but gates are not run on this occasion. */
  | 'only-looked';

export interface GateLook {
  readonly gate: string;
  readonly answer: GateAnswer;
  readonly account: Account;
}

/** A gate’s question to a person. */
export interface GateProposal {
  readonly gate: string;
  /** Its {@link lookKey}: it stands as long as this look is true. */
  readonly look: string;
  /** The rule's pick. */
  readonly pick: StageKey;
}

/** A move from one stage to another; `gate` is null where a hand moved the record along none. */
export interface GateMove {
  readonly gate: string | null;
  readonly from: StageKey;
  readonly to: StageKey;
}

export interface GatePassage {
  readonly stage: StageKey;
  /** In order. */
  readonly moves: readonly GateMove[];
  /** Every gate that was asked from a stage the record was in, in order; one that can't be judged is the last. */
  readonly looked: readonly GateLook[];
  /** New proposals of gates of the final stage. */
  readonly asks: readonly GateProposal[];
  /** Looks to keep for the next occasion, of gates of the final stage, by look key. */
  readonly looks: readonly (readonly [look: string, is: Look])[];
  /** Values that the gates passed have changed, in the order in which they were first changed. */
  readonly changes: readonly GateChange[];
  /** The gates through which the record ran in a circle, all of it undone; empty: it did not. */
  readonly loop: readonly string[];
  /** Fields that keep the last gate that was asked in the final stage from being judged. */
  readonly unjudged: readonly string[];
}

/** A move that a person makes before gates are run. */
export interface PersonMove {
  /**
   * `accepts`: takes what a gate picked; the stage is entered as by rule. `moves`: moves it by hand, or elsewhere than the gate picked; what holds in the
   * stage already moves it no further, since a rule does not undo a hand.
   */
  readonly kind: 'accepts' | 'moves';
  readonly gate: string | null;
  readonly to: StageKey;
}

interface Position {
  /** Where the record stands; null: it has just come in, and enters the entry stage. */
  readonly stage: StageKey | null;
  readonly entry: StageKey;
  readonly looks: ReadonlyMap<string, Look>;
  readonly person?: PersonMove | null;
}

/**
 * How gates are run. `no`: nothing moves, and no look is written; only what holds is remembered. `on what became true`: a
 * gate acts if it holds and its look is false. `by time`: nor if it held at the last decision.
 */
export type GateRun = 'no' | 'on what became true' | 'by time';

/**
 * Takes a record through the gates: from its stage, the first gate whose condition has *become* true, and on from there.
 *
 * A gate acts on the rising edge: true now, not true at its last look. Looks are of gates that are on and lead out of the
 * stage in which the record stands; entering a stage starts them as false. A condition that can't be judged leaves its look
 * as it was, and stops the gates below it. A gate that asks acts by a proposal, and holds nothing up; one that is for a person
 * alone does nothing. What a gate changes is changed before the gates of the next stage are asked. After {@link MOST_MOVES} moves
 * all that gates did on this occasion is undone, as a loop: moves, changes and looks.
 *
 * @param factsIn the facts as they are in a stage, since a gate may ask about it and since when the record is there, and with what
 * gates have changed
 */
export function passGates(
  gates: readonly ReadyGate[],
  from: Position,
  factsIn: (stage: StageKey, moved: boolean, changes: readonly GateChange[]) => Facts,
  run: GateRun,
): GatePassage {
  const inForce = gates.filter((gate) => gate.on);
  const { person = null } = from;
  const looked: GateLook[] = [];
  const moves: GateMove[] = [];
  let stage = from.stage ?? from.entry;
  let asks: GateProposal[] = [];
  let loop: readonly string[] = [];
  let unjudged: readonly string[] = [];
  let changes: readonly GateChange[] = [];
  const came = stage;
  const own = (): Facts => factsIn(came, false, []);
  const move = (key: string | null, to: StageKey): void => {
    moves.push({ gate: key, from: stage, to });
    stage = to;
    const gate = gates.find((one) => one.key === key);
    if (gate?.to === to && gate.effects.length > 0) changes = changesAfter(gate, changes, own());
  };
  if (person !== null) move(person.gate, person.to);
  const begun = { stage, changes, moves: moves.length };
  const before = (gate: ReadyGate): Look | undefined => {
    if (moves.length === 0 && from.stage !== null) return from.looks.get(gate.look);
    if (person?.kind !== 'moves' || moves.length > 1) return undefined;
    // By hand the look starts as the present truth, but for the time.
    const { when, filled } = gate.parts;
    return judge({ kind: 'all', of: [when, ...filled] }, factsIn(stage, true, changes)) === 'yes' ? 'true' : undefined;
  };

  for (let settled = false; !settled;) {
    const facts = factsIn(stage, moves.length > 0, changes);
    const blocked = new Set<string>();
    settled = true;
    asks = [];
    for (const gate of inForce) {
      if (gate.from !== stage) continue;
      const account = explain(gate.ready, facts);
      const answer = answerOf(gate, account, before(gate), run);
      looked.push({ gate: gate.key, account, answer });
      if (answer === 'unjudged' && gate.decider.kind !== 'person') {
        // Nobody knows whether it moves, so none below it may.
        unjudgedFields(account, blocked);
        break;
      }
      if (answer === 'asks') asks.push({ gate: gate.key, look: gate.look, pick: pickOf(gate, facts) });
      if (answer !== 'moves') continue;
      if (moves.length === MOST_MOVES) {
        loop = moves.flatMap((one) => one.gate ?? []);
      } else {
        move(gate.key, gate.to);
        settled = false;
      }
      break;
    }
    unjudged = [...blocked];
  }
  const looped = loop.length > 0;
  if (looped) {
    ({ stage, changes } = begun);
    moves.length = begun.moves;
    [asks, unjudged] = [[], []];
  }

  const facts = factsIn(stage, moves.length > 0, changes);
  const looks = inForce.flatMap((gate): [string, Look][] => {
    if (gate.from !== stage || gate.decider.kind === 'person') return [];
    if (asks.some(({ look }) => look === gate.look)) return [[gate.look, 'true']];
    const look = looped ? before(gate) : lookAfter(gate, facts, before(gate), run);
    return look === undefined ? [] : [[gate.look, look]];
  });
  return {
    stage,
    moves,
    looked,
    asks,
    looks,
    changes: changes.length === 0 ? [] : realChanges(changes, own()),
    loop,
    unjudged,
  };
}

/** The stage that a gate proposes: of the first alternative whose condition holds, else its own. */
export function pickOf({ alternatives, to }: Pick<ReadyGate, 'alternatives' | 'to'>, facts: Facts): StageKey {
  return alternatives.find(({ ready }) => judge(ready, facts) === 'yes')?.to ?? to;
}

function answerOf(gate: ReadyGate, account: Account, before: Look | undefined, run: GateRun): GateAnswer {
  const { answer } = account;
  const { kind } = gate.decider;
  if (answer === 'no') return waitOf(gate, account) ?? 'no';
  if (answer === 'unjudged') return answer;
  if (kind === 'person') return 'for-a-person';
  if (run === 'no') return 'only-looked';
  if (before === 'true') return 'was-true';
  if (run === 'by time' && before === 'held') return 'held-before';
  return kind === 'asks' ? 'asks' : 'moves';
}

/** Tells what a gate still waits for if its own condition holds; null: that does not hold. */
function waitOf({ requiredFields, ...time }: ReadyGate, account: Account): 'waits-for-field' | 'waits-for-time' | null {
  if (account.test !== 'all' || (requiredFields.length === 0 && leastTest(time) === null)) return null;
  const [when, ...rest] = account.of;
  if (when?.answer !== 'yes') return null;
  return rest.slice(0, requiredFields.length).some((one) => one.answer === 'no') ? 'waits-for-field' : 'waits-for-time';
}

/** The look of a gate that did not act. */
function lookAfter(gate: ReadyGate, facts: Facts, before: Look | undefined, run: GateRun): Look | undefined {
  switch (judge(gate.ready, facts)) {
    case 'unjudged':
      return before;
    case 'no':
      if (before !== 'true') return undefined;
      // Looks are written only where gates are run; what a hand began as true does not act when only the time is reached.
      return run === 'no' || waitOf(gate, explain(gate.ready, facts)) === 'waits-for-time' ? before : undefined;
    case 'yes':
      return before ?? 'held';
  }
}
