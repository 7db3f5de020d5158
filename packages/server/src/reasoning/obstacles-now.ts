import { appraise, type MovingRecord, namesOf, type Obstacle, obstaclesOf } from '@relvik/core';
import type { Governing } from '../store/governing';

/** The obstacle of each gate as if something happened to a lead or deal now. */
export function obstaclesNow({ ready, world }: Governing, record: MovingRecord, now: Date): Obstacle[] {
  const { stage } = record.standing;
  if (stage === null) return [];
  const { charter } = ready;
  const wording = { names: namesOf(charter, world), fields: world.fields, baseCurrency: charter.baseCurrency };
  const { looked } = appraise(ready, record, world, 'edited', now.getTime()).gates;
  return obstaclesOf(looked, stage, charter.gates, wording);
}
