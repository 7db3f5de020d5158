import type { ReadyCharter } from '../charter/ready-charter';
import { type Account, explain } from '../condition/explain';
import { pickOf, type ReadyGate } from '../gate/pass-gates';
import { standingStage } from '../gate/pipeline';
import type { Instant, StageKey } from '../record/keys';
import type { MovingRecord } from '../record/record';
import type { FactsAround } from './facts';
import { gradeRecord } from './grade-record';

/** The answer of a gate for a record at an instant. */
export interface GateNow {
  readonly gate: ReadyGate;
  /** Of its condition, required fields and time together. */
  readonly account: Account;
  /** The stage that the rule picks if the gate holds. */
  readonly pick: StageKey;
  /** The stages to which it may lead; `account` is null for its own, which it picks where no alternative holds. */
  readonly outcomes: readonly { readonly to: StageKey; readonly account: Account | null }[];
}

/** The gate along which a record may be moved to a stage, since it holds; null: none. */
export function gateAlong(now: readonly GateNow[], to: StageKey): string | null {
  return (
    now.find(({ account, outcomes }) => account.answer === 'yes' && outcomes.some((one) => one.to === to))?.gate.key ??
    null
  );
}

/**
 * The answers of the gates of a record's stage that are on, in their order, whatever their looks.
 *
 * @param asOf activities after it are not counted
 */
export function gatesNow(
  charter: ReadyCharter,
  record: MovingRecord,
  around: FactsAround,
  asOf: Instant,
): readonly GateNow[] {
  const rules = charter.rules[record.kind];
  const { stage } = record.standing;
  if (stage === null) return [];
  const here = standingStage(rules.stages, stage);
  const facts = gradeRecord(charter, record, around, asOf).facts.withStage(here, false);
  return rules.gates
    .filter(({ on, from }) => on && from === here)
    .map((gate) => ({
      gate,
      account: explain(gate.ready, facts),
      pick: pickOf(gate, facts),
      outcomes: [
        { to: gate.to, account: null },
        ...gate.alternatives.map(({ to, ready }) => ({ to, account: explain(ready, facts) })),
      ],
    }));
}
