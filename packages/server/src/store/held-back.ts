import type { EntityManager } from 'typeorm';
import { governedBy, readGoverning } from './governing';

/** Open leads that time does not move: the charter that gave them their values names what is gone. */
export interface HeldBack {
  readonly charter: number;
  readonly count: number;
  /** Since when the first of them is due. */
  readonly since: Date;
}

/** By the charter that governs them, in the order of their numbers. */
export async function heldBack(manager: EntityManager, now: Date): Promise<HeldBack[]> {
  const inForce = await readGoverning(manager, 'none');
  const due = await manager.query<{ charter: number; count: string; since: Date }[]>(
    `SELECT charter, COUNT(*) AS count, MIN(changes_at) AS since FROM \`lead\`
     WHERE status = 'open' AND changes_at <= ? AND charter <> ? GROUP BY charter ORDER BY charter`,
    [now, inForce.number],
  );
  const held: HeldBack[] = [];
  for (const { charter, count, since } of due)
    if ((await governedBy(manager, charter, inForce)) === null) held.push({ charter, count: Number(count), since });
  return held;
}
