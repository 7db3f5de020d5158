import { happeningText, type ReadyCondition, readyTestsIn, timesHappened } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { ListKind } from './list-kinds';

interface HappenedRow {
  readonly record: number | null;
  readonly kind: string;
  readonly at: Date;
  readonly properties: string;
}

/**
 * How often things happened that a condition asks for by their properties, by record. The database can't fold properties as
 * conditions compare them, so they are read here.
 *
 * @returns by {@link happeningText}; a record that is missing has 0
 */
export async function countHappened(
  manager: EntityManager,
  { activities }: ListKind,
  condition: ReadyCondition,
  now: Date,
): Promise<ReadonlyMap<string, ReadonlyMap<number, number>>> {
  const counts = new Map<string, ReadonlyMap<number, number>>();
  for (const { subject } of readyTestsIn(condition)) {
    if (subject.kind !== 'happened' || subject.having.length === 0) continue;
    const rows: HappenedRow[] = [];
    // Of each record that an activity counts for: those below have it, and those above.
    for (const { from, of } of activities)
      rows.push(
        ...(await manager.query<HappenedRow[]>(
          `SELECT ${of.replace(' = r.id', '')} AS record, a.kind, a.at, a.properties FROM ${from} WHERE a.kind = ? AND a.properties IS NOT NULL`,
          [subject.activity],
        )),
      );
    const byRecord = new Map<number, number>();
    for (const { record, kind, at, properties } of rows) {
      const times = timesHappened(
        subject,
        [{ kind, at: at.getTime(), properties: JSON.parse(properties) as Record<string, string> }],
        now.getTime(),
      );
      if (times > 0 && record !== null) byRecord.set(record, (byRecord.get(record) ?? 0) + times);
    }
    counts.set(happeningText(subject), byRecord);
  }
  return counts;
}
