import { type Charter, type CondensedDecision, type Decision, restoreDecision } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { CharterEntity } from './entity/charter.entity';
import type { DecisionEntity } from './entity/history.entity';

/** The whole decision that a row keeps, in whichever format; a condensed one needs the charter that made it. */
export function decisionOf({ format, body }: Pick<DecisionEntity, 'format' | 'body'>, charter: Charter): Decision {
  return format === 1 ? (body as Decision) : restoreDecision(body as CondensedDecision, charter);
}

/** Reads the charter that made a decision, or that scored a lead. */
export async function charterNumbered(manager: EntityManager, number: number): Promise<Charter> {
  return (await manager.findOneByOrFail(CharterEntity, { number })).body;
}
