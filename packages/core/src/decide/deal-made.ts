import type { ReadyCharter } from '../charter/ready-charter';
import type { MadeDeal } from '../deal/deal-rule';
import type { MovingRecord } from '../record/record';
import type { Appraisal } from './decision';

/** The deal that a decision makes of a lead: of the first gate passed that makes one, unless the lead has an open one. Null: none. */
export function dealMade(
  { rules }: ReadyCharter,
  { kind, standing }: Pick<MovingRecord, 'kind' | 'standing'>,
  { gates: { moves } }: Pick<Appraisal, 'gates'>,
): MadeDeal | null {
  if (standing.hasOpenDeal === true) return null;
  for (const { gate: key, to } of moves) {
    const gate = rules[kind].gates.find((one) => one.key === key && one.to === to);
    if (gate?.deal != null) return { ...gate.deal, rule: gate.key };
  }
  return null;
}
