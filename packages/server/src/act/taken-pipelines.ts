import { type Appraisal, pipelineOfStage, type ReadyCharter } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { LeadEntity } from '../store/entity/lead.entity';
import type { Governing } from '../store/governing';
import { Refused } from '../problem/refused';
import { identityOf } from '../store/identity';
import { openForOf } from '../store/open-for';
import type { Act } from './act';

/** An act with its appraisal by a charter. */
interface Appraised {
  readonly act: Act;
  readonly charter: Governing;
  readonly appraisal: Appraisal | null;
}

/** The pipeline into which gates led a record out of another one; null: into none. */
function crossedInto({ appraisal, charter }: Appraised): string | null {
  const [first] = appraisal?.gates.moves ?? [];
  if (appraisal === null || first === undefined) return null;
  const { charter: drawn } = charter.ready;
  const into = pipelineOfStage(drawn, appraisal.stage);
  return into === pipelineOfStage(drawn, first.from) ? null : (into?.key ?? null);
}

/** Whether the person's own move, not a gate after it, leads into the other pipeline. */
function isByPerson({ act: { change }, appraisal, charter }: Appraised): boolean {
  const [first] = appraisal?.gates.moves ?? [];
  if (change.kind !== 'decide' || change.person === null || first === undefined) return false;
  const { charter: drawn } = charter.ready;
  return pipelineOfStage(drawn, first.from) !== pipelineOfStage(drawn, first.to);
}

/** The charter without the gates that lead into a pipeline from another one. */
function withoutGatesInto(ready: ReadyCharter, pipeline: string): ReadyCharter {
  const { lead } = ready.rules;
  const inside = (stage: string): boolean => pipelineOfStage(ready.charter, stage)?.key === pipeline;
  const gates = lead.gates.map((gate) => (inside(gate.to) && !inside(gate.from) ? { ...gate, on: false } : gate));
  return { ...ready, rules: { ...ready.rules, lead: { ...lead, gates } } };
}

/**
 * Keeps one lead open for a person, or a company without one, and pipeline: where gates would lead one into a pipeline in which the person has an open
 * lead already, they let it through only once that one is closed; until then it is decided without them.
 *
 * @param again appraises an act by another charter
 */
export async function keepOutOfTaken<P extends Appraised>(
  manager: EntityManager,
  prepared: readonly P[],
  again: (act: Act, charter: Governing) => P,
): Promise<P[]> {
  const whoseOf = ({ act: { record, stored, test, ties }, charter }: P): number | null =>
    (stored?.test ?? test) ? null : openForOf({ ...identityOf(record, charter.ties), ...ties });
  const crossing = prepared.filter((one) => crossedInto(one) !== null && whoseOf(one) !== null);
  if (crossing.length === 0) return [...prepared];
  const open = await manager.find(LeadEntity, {
    select: { id: true, openFor: true, pipeline: true },
    where: { openFor: In(crossing.map(whoseOf)) },
  });
  const holders = new Map(open.map((one) => [`${one.pipeline} ${one.openFor ?? ''}`, one.id]));
  return prepared.map((one) => {
    let now = one;
    for (let into = crossedInto(now); into !== null; into = crossedInto(now)) {
      const whose = whoseOf(now);
      const id = Number(now.act.record.id);
      const holder = holders.get(`${into} ${whose ?? ''}`);
      if (whose === null || holder === undefined || holder === id) {
        holders.set(`${into} ${whose ?? ''}`, id);
        return now;
      }
      if (isByPerson(now))
        throw Refused.as('pipeline-taken', { detail: `Lead ${holder} is open there.`, other: holder });
      now = again(now.act, { ...now.charter, ready: withoutGatesInto(now.charter.ready, into) });
    }
    return now;
  });
}
