import { type Charter, type Pipeline, type Stage } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { STAND_OPEN } from '../store/open-for';

/**
 * Moves the records of a stage that a charter merged into another: open and closed ones alike, whatever the scope of enacting.
 * Their time in the stage runs on, and nothing is decided: only the history says so.
 *
 * @param number of the charter that comes into force
 */
export async function moveMerged(
  manager: EntityManager,
  { pipelines }: Charter,
  number: number,
  now: Date,
): Promise<void> {
  for (const pipeline of pipelines)
    for (const stage of pipeline.stages)
      if (stage.mergedFrom.length > 0) await moveInto(manager, pipeline, stage, number, now);
}

async function moveInto(
  manager: EntityManager,
  { of, key: pipeline }: Pipeline,
  { key: stage, mergedFrom }: Stage,
  number: number,
  now: Date,
): Promise<void> {
  await manager.query(
    `INSERT INTO record_change (record, field, \`from\`, \`to\`, reason, at, cause, person, \`by\`, charter, rule)
     SELECT id, 'stage', JSON_QUOTE(stage), JSON_QUOTE(?), NULL, ?, 'charter', NULL, '', ?, NULL FROM \`${of}\` WHERE stage IN (?)`,
    [stage, now, number, mergedFrom],
  );
  if (of === 'deal') {
    await manager.query('UPDATE deal SET stage = ?, version = version + 1 WHERE stage IN (?)', [stage, mergedFrom]);
    return;
  }
  // Of two open leads of a person that come into one pipeline, one is that to which inquiries are added.
  await manager.query('UPDATE `lead` SET open_for = NULL WHERE stage IN (?) AND pipeline <> ?', [mergedFrom, pipeline]);
  await manager.query('UPDATE `lead` SET stage = ?, pipeline = ?, version = version + 1 WHERE stage IN (?)', [
    stage,
    pipeline,
    mergedFrom,
  ]);
  await manager.query(`${STAND_OPEN} AND stage = ?`, [stage]);
}
