import { type Charter, type CondensedDecision, type Decision, type Grade, restoreDecision } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { CharterEntity } from './entity/charter.entity';
import type { DecisionEntity } from './entity/history.entity';

/** The whole decision that a row keeps, in whichever format; a condensed one needs the charter that made it. */
export function decisionOf({ format, body }: Pick<DecisionEntity, 'format' | 'body'>, charter: Charter): Decision {
  const decision = format === 1 ? (body as Decision) : restoreDecision(body as CondensedDecision, charter);
  const gates = format <= 4 ? gatesOfBefore(decision.gates) : decision.gates;
  return { ...decision, gates, ...(format <= 2 ? { grade: withBands(decision, charter) } : {}) };
}

/** Up to format 4 a loop was not undone: the record stood where it was stopped. */
function gatesOfBefore(
  kept: Partial<Decision['gates']> & Omit<Decision['gates'], 'asks' | 'changes' | 'loop'>,
): Decision['gates'] {
  const looped = (kept.loop as unknown) === true;
  return { asks: [], ...kept, changes: [], loop: looped ? kept.moves.flatMap(({ gate }) => gate ?? []) : [] };
}

/** A grade that was kept without the keys of its bands, which its charter has by now. */
function withBands({ grade, score }: Decision, { scoreSets }: Charter): Grade | null {
  const grid = scoreSets.find(({ key }) => key === score.set)?.grid;
  if (grade === null || grid === undefined) return null;
  const keyOn = (axis: 'fit' | 'engagement'): string => grid[axis].bands[grade[axis]]?.key ?? '';
  return { ...grade, bands: { fit: keyOn('fit'), engagement: keyOn('engagement') } };
}

/** Reads the charter that made a decision, or that scored a lead. */
export async function charterNumbered(manager: EntityManager, number: number): Promise<Charter> {
  return (await manager.findOneByOrFail(CharterEntity, { number })).body;
}
