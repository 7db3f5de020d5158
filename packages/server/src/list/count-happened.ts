import { happeningText, type ReadyCondition, readyTestsIn, timesHappened } from '@relvik/core';
import { type EntityManager, IsNull, Not } from 'typeorm';
import { ActivityEntity } from '../store/entity/history.entity';

/**
 * How often things happened that a condition asks for by their properties, by lead. The database can't fold properties as
 * conditions compare them, so they are read here.
 *
 * @returns by {@link happeningText}; a lead that is missing has 0
 */
export async function countHappened(
  manager: EntityManager,
  condition: ReadyCondition,
  now: Date,
): Promise<ReadonlyMap<string, ReadonlyMap<number, number>>> {
  const counts = new Map<string, ReadonlyMap<number, number>>();
  for (const { subject } of readyTestsIn(condition)) {
    if (subject.kind !== 'happened' || subject.having.length === 0) continue;
    const rows = await manager.find(ActivityEntity, {
      select: { record: true, kind: true, at: true, properties: true },
      where: { kind: subject.activity, properties: Not(IsNull()) },
    });
    const byLead = new Map<number, number>();
    for (const { record, kind, at, properties } of rows) {
      const times = timesHappened(subject, [{ kind, at: at.getTime(), properties: properties ?? {} }], now.getTime());
      if (times > 0) byLead.set(record, (byLead.get(record) ?? 0) + times);
    }
    counts.set(happeningText(subject), byLead);
  }
  return counts;
}
