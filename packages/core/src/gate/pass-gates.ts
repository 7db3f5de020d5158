import { type Account, explain, unjudgedFields } from '../condition/explain';
import { type Facts, judge } from '../condition/judge';
import type { ReadyCondition } from '../condition/ready';
import type { StageKey } from '../record/keys';
import type { Gate } from './gate';

export type ReadyGate = Gate & { readonly ready: ReadyCondition };

/** At most so many moves on one occasion. */
export const MOST_MOVES = 20;

export type GateAnswer =
  /** The condition became true here: the record moves. */
  | 'moves'
  /** It was already true at the last look: nothing happens. */
  | 'was-true'
  | 'no'
  | 'unjudged'
  /** Gates are not run on this occasion; only the look is kept. */
  | 'only-looked';

export interface GateLook {
  readonly gate: string;
  readonly answer: GateAnswer;
  readonly account: Account;
}

export interface GatePassage {
  readonly stage: StageKey;
  /** Gates passed, in order. */
  readonly moves: readonly { readonly gate: string; readonly from: StageKey; readonly to: StageKey }[];
  /** Every gate that was asked from a stage the record was in, in order; one that can't be judged is the last. */
  readonly looked: readonly GateLook[];
  /** The last look of every gate, to be kept for the next occasion. */
  readonly looks: readonly (readonly [gate: string, truth: boolean])[];
  /** The record ran in a circle and was stopped. */
  readonly loop: boolean;
  /** Fields that keep the last gate that was asked in the final stage from being judged. */
  readonly unjudged: readonly string[];
}

interface Position {
  readonly stage: StageKey;
  readonly looks: ReadonlyMap<string, boolean>;
}

/**
 * Takes a record through the gates: from its stage, the first gate whose condition has *become* true, and on from there.
 *
 * A gate acts on the rising edge: true now, not true at its last look before this occasion. A condition that can't be
 * judged leaves the last look as it was, and stops the gates below it. After {@link MOST_MOVES} moves the record stops where it is, as a loop.
 *
 * @param factsIn the facts as they are in a stage, since a gate may read the stage
 * @param run false: no moves, the looks are set to the present truth
 */
export function passGates(
  gates: readonly ReadyGate[],
  from: Position,
  factsIn: (stage: StageKey) => Facts,
  run: boolean,
): GatePassage {
  const inForce = gates.filter((gate) => gate.on);
  const looked: GateLook[] = [];
  const moves: { gate: string; from: StageKey; to: StageKey }[] = [];
  let stage = from.stage;
  let loop = false;
  let unjudged: readonly string[] = [];

  for (let settled = false; !settled;) {
    const facts = factsIn(stage);
    const blocked = new Set<string>();
    settled = true;
    for (const gate of inForce) {
      if (gate.from !== stage) continue;
      const account = explain(gate.ready, facts);
      const moving = run && account.answer === 'yes' && from.looks.get(gate.key) !== true;
      looked.push({ gate: gate.key, account, answer: answerOf(account, moving, run) });
      if (account.answer === 'unjudged') {
        // Nobody knows whether it moves, so none below it may.
        unjudgedFields(account, blocked);
        break;
      }
      if (!moving) continue;
      if (moves.length === MOST_MOVES) {
        loop = true;
      } else {
        moves.push({ gate: gate.key, from: stage, to: gate.to });
        stage = gate.to;
        settled = false;
      }
      break;
    }
    unjudged = [...blocked];
  }

  const facts = factsIn(stage);
  const looks = gates.map((gate): [string, boolean] => {
    const answer = judge(gate.ready, facts);
    return [gate.key, answer === 'unjudged' ? from.looks.get(gate.key) === true : answer === 'yes'];
  });
  return { stage, moves, looked, looks, loop, unjudged };
}

function answerOf(account: Account, moving: boolean, run: boolean): GateAnswer {
  if (account.answer !== 'yes') return account.answer;
  if (!run) return 'only-looked';
  return moving ? 'moves' : 'was-true';
}
