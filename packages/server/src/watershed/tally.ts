import type { Instant, Status, UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Sight } from '../session/sight';
import { type HeldBack, heldBack } from '../store/held-back';

/** The columns that decide in whose sight leads are. */
interface Held {
  readonly owner: string | null;
  readonly queue: string | null;
  readonly bayTeam: string | null;
  readonly count: number;
}

/** Leads that are alike in all by which the home page counts. */
export interface LeadGroup extends Held {
  readonly status: Status;
  readonly stage: string;
  readonly territory: string | null;
  readonly fitBand: string | null;
  readonly scored: boolean;
  readonly routed: boolean;
  readonly place: string;
  /** Why they wait in the bay; null: they do not. */
  readonly why: string | null;
  /** Since when the first of them is where it is. */
  readonly since: Instant;
}

/** Leads of one source. */
export interface SourceGroup extends Held {
  readonly source: string;
  readonly fitBand: string | null;
}

/** All leads, counted by groups. */
export interface Tally {
  readonly groups: readonly LeadGroup[];
  readonly sources: readonly SourceGroup[];
  readonly heldBack: readonly HeldBack[];
  /** Contacts, companies and open deals. */
  readonly others: Readonly<Record<UnroutedKind, number>>;
}

/**
 * Counts all leads in one walk, and the other records beside, whoever asks and whatever for.
 *
 * @param source the key of the field that says where leads came from; null: none does
 */
export async function readTally(manager: EntityManager, source: string | null, now: Date): Promise<Tally> {
  type Row = Omit<LeadGroup, 'scored' | 'routed' | 'count' | 'since'> & {
    readonly scored: number;
    readonly routed: number;
    readonly count: string;
    readonly since: Date;
  };
  const groups = await manager.query<Row[]>(
    `SELECT status, stage, territory, fit_band AS fitBand, fit IS NOT NULL AS scored, route IS NOT NULL AS routed, place, owner, queue,
       bay_team AS bayTeam, IF(place = 'bay', JSON_VALUE(bay, '$.why'), NULL) AS why, COUNT(*) AS count, MIN(since) AS since
     FROM \`lead\` GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11`,
  );
  const sources =
    source === null
      ? []
      : await manager.query<(Omit<SourceGroup, 'count'> & { readonly count: string })[]>(
          `SELECT v.shown AS source, l.fit_band AS fitBand, l.owner, l.queue, l.bay_team AS bayTeam, COUNT(*) AS count
           FROM \`lead\` l JOIN field_value v ON v.record = l.id AND v.field = ? GROUP BY 1, 2, 3, 4, 5`,
          [source],
        );
  const [others] = await manager.query<Record<UnroutedKind, string>[]>(
    `SELECT (SELECT COUNT(*) FROM contact) AS contact, (SELECT COUNT(*) FROM company) AS company,
       (SELECT COUNT(*) FROM deal WHERE status = 'open') AS deal`,
  );
  return {
    heldBack: await heldBack(manager, now),
    others: { contact: Number(others?.contact), company: Number(others?.company), deal: Number(others?.deal) },
    groups: groups.map((row) => ({
      ...row,
      scored: row.scored === 1,
      routed: row.routed === 1,
      count: Number(row.count),
      since: row.since.getTime(),
    })),
    sources: sources.map((row) => ({ ...row, count: Number(row.count) })),
  };
}

/** The groups that are in sight. */
export function groupsSeen<G extends Held>(groups: readonly G[], sight: Sight): readonly G[] {
  if (sight.all) return groups;
  const has = (keys: readonly string[], key: string | null): boolean => key !== null && keys.includes(key);
  return groups.filter(
    ({ owner, queue, bayTeam }) => has(sight.owners, owner) || has(sight.queues, queue) || has(sight.leads, bayTeam),
  );
}

export function countOf(groups: readonly Pick<Held, 'count'>[]): number {
  return groups.reduce((sum, { count }) => sum + count, 0);
}

/** How many leads there are of each key, the most first. */
export function countsBy<G extends Held, K extends string | null>(
  groups: readonly G[],
  keyOf: (group: G) => K,
): { readonly key: K; readonly count: number }[] {
  const counts = new Map<K, number>();
  for (const group of groups) counts.set(keyOf(group), (counts.get(keyOf(group)) ?? 0) + group.count);
  return [...counts].map(([key, count]) => ({ key, count })).sort((a, b) => b.count - a.count);
}
