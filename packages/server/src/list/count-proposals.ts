import type { EntityManager } from 'typeorm';
import type { User } from '../session/session-store';
import type { Sight } from '../session/sight';

/** That a user decides about a proposal `p` of a lead `l` or deal `d`: their own, those they direct, or those about which they are asked. */
export function decidedBy(sight: Sight, user: User): { readonly sql: string; readonly parameters: readonly unknown[] } {
  if (sight.all) return { sql: 'TRUE', parameters: [] };
  const owners = user.role === 'manager' ? sight.owners : [user.key];
  const teams = sight.leads.length > 0 ? sight.leads : [''];
  const asked = sight.asked.length > 0 ? sight.asked : [0];
  return {
    sql: '(COALESCE(l.owner, d.owner) IN (?) OR l.bay_team IN (?) OR p.record IN (?))',
    parameters: [owners, teams, asked],
  };
}

/** Open proposals `p` with their leads `l` or deals `d`. */
export const OPEN_PROPOSALS =
  "FROM proposal p LEFT JOIN `lead` l ON l.id = p.record LEFT JOIN deal d ON d.id = p.record WHERE p.state = 'open' AND COALESCE(l.status, d.status) = 'open'";

/** How many proposals a user is to decide. */
export async function countProposals(
  manager: EntityManager,
  sight: Sight,
  user: User,
): Promise<{ count: number; since: number | null }> {
  const { sql, parameters } = decidedBy(sight, user);
  const [found] = await manager.query<{ n: string; since: Date | null }[]>(
    `SELECT COUNT(*) AS n, MIN(p.asked_at) AS since ${OPEN_PROPOSALS} AND ${sql}`,
    [...parameters],
  );
  return { count: Number(found?.n ?? 0), since: found?.since?.getTime() ?? null };
}
