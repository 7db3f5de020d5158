import type { RecordKind } from '@relvik/core';
import { Brackets, type EntityManager, type ObjectLiteral, type SelectQueryBuilder } from 'typeorm';
import type { User } from './session-store';
import { QueueMemberEntity, TeamEntity, TeamMemberEntity } from '../store/entity/people.entity';

/** What a user may see; enforced in the query. `all`: an admin. */
export type Sight =
  | { readonly all: true }
  | {
      readonly all: false;
      readonly self: string;
      /** Whose leads are seen: the user's own first. */
      readonly owners: readonly string[];
      /** Queues from which the user picks up. */
      readonly queues: readonly string[];
      /** Teams whose bay is seen, and inside which a manager hands on. */
      readonly leads: readonly string[];
      /** Leads and deals without an owner about which a gate asks the user's teams or queues. */
      readonly asked: readonly number[];
      /** Records that are seen for themselves: those asked about, and those about which the user has something to do. */
      readonly named: readonly number[];
    };

/** A rep: own teams and queues. A manager: the teams led and those below, and their bay. */
export async function sightOf(manager: EntityManager, user: User): Promise<Sight> {
  if (user.role === 'admin') return { all: true };
  const [members, teams, queues] = await Promise.all([
    manager.find(TeamMemberEntity),
    manager.find(TeamEntity),
    manager.findBy(QueueMemberEntity, { person: user.key }),
  ]);
  const mine = members.filter((m) => m.person === user.key);
  const led = below(
    mine.filter((m) => m.leads).map((m) => m.team),
    teams,
  );
  const seen = user.role === 'manager' ? led : mine.map((m) => m.team);
  const owners = new Set([user.key, ...members.filter((m) => seen.includes(m.team)).map((m) => m.person)]);
  const asked = await askedOf(
    manager,
    [...new Set([...led, ...mine.map((m) => m.team)])],
    queues.map((q) => q.queue),
  );
  return {
    all: false,
    self: user.key,
    owners: [...owners],
    queues: queues.map((q) => q.queue),
    leads: user.role === 'manager' ? led : [],
    asked,
    named: [...asked, ...(await withTasksOf(manager, user.key))],
  };
}

/** Being asked gives sight of a lead or deal. */
async function askedOf(manager: EntityManager, teams: readonly string[], queues: readonly string[]): Promise<number[]> {
  const rows = await manager.query<{ record: number }[]>(
    `SELECT DISTINCT p.record FROM proposal p LEFT JOIN \`lead\` l ON l.id = p.record LEFT JOIN deal d ON d.id = p.record
     WHERE p.state = 'open' AND COALESCE(l.owner, d.owner) IS NULL AND (p.team IN (?) OR p.queue IN (?))`,
    [teams.length > 0 ? teams : [''], queues.length > 0 ? queues : ['']],
  );
  return rows.map(({ record }) => record);
}

/** An open task gives sight of its record, until it has ended. */
async function withTasksOf(manager: EntityManager, person: string): Promise<number[]> {
  const rows = await manager.query<{ record: number }[]>(
    `SELECT DISTINCT t.record FROM task t LEFT JOIN \`lead\` l ON l.id = t.record LEFT JOIN deal d ON d.id = t.record
     WHERE t.owner = ? AND t.state = 'open' AND NOT (COALESCE(l.owner, d.owner) <=> t.owner)`,
    [person],
  );
  return rows.map(({ record }) => record);
}

function below(roots: readonly string[], teams: readonly TeamEntity[]): string[] {
  const found = new Set(roots);
  for (let grown = true; grown;) {
    grown = false;
    for (const team of teams) {
      if (team.parent === null || !found.has(team.parent) || found.has(team.key)) continue;
      found.add(team.key);
      grown = true;
    }
  }
  return [...found];
}

/** The part of the leads that is in sight. */
export function seen(sight: Exclude<Sight, { all: true }>, lead = 'lead'): Brackets {
  return new Brackets((where) => {
    where.where(`${lead}.owner IN (:...sightOwners)`, { sightOwners: sight.owners });
    if (sight.queues.length > 0) where.orWhere(`${lead}.queue IN (:...sightQueues)`, { sightQueues: sight.queues });
    if (sight.leads.length > 0) where.orWhere(`${lead}.bayTeam IN (:...sightTeams)`, { sightTeams: sight.leads });
    if (sight.named.length > 0) where.orWhere(`${lead}.id IN (:...sightNamed)`, { sightNamed: sight.named });
  });
}

/** Narrows a query over leads to what is in sight. */
export function inSight<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  sight: Sight,
  lead = 'lead',
): SelectQueryBuilder<T> {
  return sight.all ? query : query.andWhere(seen(sight, lead));
}

/** In SQL of plain columns: that a lead `l` is in sight, and the parameters that it names. */
function leadSeen({ owners, queues, leads, named }: Exclude<Sight, { all: true }>): {
  readonly sql: string;
  readonly parameters: Record<string, unknown>;
} {
  const queued = queues.length > 0 ? ' OR l.queue IN (:...sightQueues)' : '';
  const waiting = leads.length > 0 ? ' OR l.bay_team IN (:...sightTeams)' : '';
  const byName = named.length > 0 ? ' OR l.id IN (:...sightNamed)' : '';
  return {
    sql: `(l.owner IN (:...sightOwners)${queued}${waiting}${byName})`,
    parameters: { sightOwners: owners, sightQueues: queues, sightTeams: leads, sightNamed: named },
  };
}

/** The same with places for parameters in order, for a lead `l` that may be missing. */
export function lookedAt({ owners, queues, leads, named }: Exclude<Sight, { all: true }>): {
  readonly sql: string;
  readonly parameters: readonly unknown[];
} {
  const listed = (list: readonly unknown[]): readonly unknown[] => (list.length > 0 ? list : [null]);
  return {
    sql: '(l.owner IN (?) OR l.queue IN (?) OR l.bay_team IN (?) OR l.id IN (?))',
    parameters: [owners, queues, leads, named].map(listed),
  };
}

/**
 * Narrows a query over records `r` of a kind to what is in sight: deals of the owners seen, and contacts and companies that one
 * of them owns, or that have a lead or deal in sight.
 */
export function recordsInSight<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  kind: RecordKind,
  sight: Sight,
): SelectQueryBuilder<T> {
  if (sight.all) return query;
  switch (kind) {
    case 'lead':
      return inSight(query, sight, 'r');
    case 'deal':
      return query.andWhere(
        `(r.owner IN (:...sightOwners)${sight.named.length > 0 ? ' OR r.id IN (:...sightNamed)' : ''})`,
        {
          sightOwners: sight.owners,
          sightNamed: sight.named,
        },
      );
    case 'contact':
    case 'company': {
      const { sql, parameters } = leadSeen(sight);
      const tie = kind === 'contact' ? 'contact' : 'company_id';
      const below = [
        `EXISTS (SELECT 1 FROM \`lead\` l WHERE l.${tie} = r.id AND ${sql})`,
        `EXISTS (SELECT 1 FROM deal d WHERE d.${kind} = r.id AND d.owner IN (:...sightOwners))`,
      ];
      if (sight.named.length > 0) below.push('r.id IN (:...sightNamed)');
      return query.andWhere(`(r.owner IN (:...sightOwners) OR ${below.join(' OR ')})`, parameters);
    }
  }
}
