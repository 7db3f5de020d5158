import { PIPELINE_KINDS, RECORD_KINDS, UNROUTED_KINDS } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { recountDeals } from '../act/follow-deals';
import { charterInForce } from '../store/governing';
import { OPEN_FOR } from '../store/open-for';

/** Something that a fault may leave behind: how it is found, and how it is mended. */
export interface Check {
  readonly key: string;
  /** What is wrong, completing "12 …". */
  readonly what: string;
  /** Selects what is wrong as `id`: of a record, or a person's key. Each is one fault. */
  readonly sql: string;
  /** Mends what the same query finds, in one transaction; null: a person has to decide. */
  readonly mend: ((manager: EntityManager, ids: readonly (number | string)[], now: Date) => Promise<void>) | null;
}

const run =
  (sql: string): NonNullable<Check['mend']> =>
  async (manager, ids) => {
    await manager.query(sql, [ids]);
  };

/** Rows of a table that hang on a record that is no lead, nor one of the other kinds. */
function orphans(table: string, holders: string): Check {
  return {
    key: `orphans-${table}`,
    what: `rows of ${table} that belong to no record`,
    sql: `SELECT DISTINCT record AS id FROM \`${table}\` t WHERE record IS NOT NULL AND NOT EXISTS (${holders})`,
    mend: run(`DELETE FROM \`${table}\` WHERE record IN (?)`),
  };
}

const A_LEAD = 'SELECT l.id FROM `lead` l WHERE l.id = t.record';
/** A record of any kind. */
const A_RECORD = [A_LEAD, ...UNROUTED_KINDS.map((kind) => `SELECT r.id FROM ${kind} r WHERE r.id = t.record`)].join(
  ' UNION ALL ',
);

/** A place that its columns contradict. */
const NO_PLACE = `NOT ((place = 'owner') = (owner IS NOT NULL) AND (place = 'queue') = (queue IS NOT NULL)
  AND (place = 'bay') = (bay IS NOT NULL) AND place IN ('owner', 'queue', 'bay', 'not-handed-over'))`;

export const CHECKS: readonly Check[] = [
  {
    key: 'no-place',
    what: 'leads without exactly one place',
    sql: `SELECT id FROM \`lead\` WHERE ${NO_PLACE}`,
    async mend(manager, ids, now) {
      const { body } = await charterInForce(manager, 'none');
      // Nobody knows whose it was: it goes where leads go that no route takes, in view.
      await manager.query(
        `UPDATE \`lead\` SET place = 'queue', queue = ?, owner = NULL, bay = NULL, bay_team = NULL, waits_for = NULL, since = ?, version = version + 1 WHERE id IN (?)`,
        [body.lastResort.lead, now, ids],
      );
      await manager.query(
        "INSERT INTO record_change (record, field, `from`, `to`, reason, at, cause, person, `by`, charter, rule) SELECT id, 'place', NULL, JSON_OBJECT('kind', 'queue', 'queue', queue), 'it had no place', ?, 'relvik', NULL, '', NULL, NULL FROM `lead` WHERE id IN (?)",
        [now, ids],
      );
    },
  },
  {
    key: 'wrong-load',
    what: 'people whose open leads were counted wrongly',
    sql: `SELECT k.rep AS id FROM (SELECT rep FROM rep_load UNION SELECT owner FROM \`lead\` WHERE status = 'open' AND owner IS NOT NULL) k
      LEFT JOIN rep_load l ON l.rep = k.rep
      LEFT JOIN (SELECT owner, COUNT(*) AS n FROM \`lead\` WHERE status = 'open' GROUP BY owner) held ON held.owner = k.rep
      WHERE COALESCE(l.open, 0) <> COALESCE(held.n, 0)`,
    async mend(manager, ids) {
      await manager.query('INSERT IGNORE INTO rep_load (rep, open) VALUES ?', [ids.map((rep) => [rep, 0])]);
      // Every change of a load locks its row: with the rows locked the count is stable.
      await manager.query('SELECT rep FROM rep_load WHERE rep IN (?) ORDER BY rep FOR UPDATE', [ids]);
      await manager.query(
        `UPDATE rep_load l SET open = (SELECT COUNT(*) FROM \`lead\` WHERE status = 'open' AND owner = l.rep) WHERE rep IN (?)`,
        [ids],
      );
    },
  },
  {
    key: 'open-deals',
    what: 'leads whose open deals were counted wrongly',
    sql: `SELECT l.id FROM \`lead\` l LEFT JOIN (SELECT lead, COUNT(*) AS n FROM deal WHERE status = 'open' AND lead IS NOT NULL GROUP BY lead) d ON d.lead = l.id
      WHERE l.open_deals <> COALESCE(d.n, 0)`,
    async mend(manager, ids, now) {
      await recountDeals(manager, ids.map(Number));
      await manager.query(
        "INSERT INTO record_change (record, field, `from`, `to`, reason, at, cause, person, `by`, charter, rule) SELECT id, 'deal', NULL, NULL, 'counted anew', ?, 'relvik', NULL, '', NULL, NULL FROM `lead` WHERE id IN (?)",
        [now, ids],
      );
    },
  },
  {
    key: 'two-open',
    what: 'people or companies with two open leads in one pipeline',
    sql: `SELECT MAX(id) AS id FROM \`lead\` WHERE status = 'open' AND test = 0 AND ${OPEN_FOR} IS NOT NULL GROUP BY ${OPEN_FOR}, pipeline HAVING COUNT(*) > 1`,
    mend: null,
  },
  {
    key: 'open-for',
    what: 'leads that were not kept apart as the open one of their person or company',
    sql: `SELECT id FROM (SELECT id, status, test, pipeline, open_for, ${OPEN_FOR} AS whose FROM \`lead\`) one
      WHERE (status <> 'open' AND open_for IS NOT NULL)
      OR (status = 'open' AND test = 0 AND NOT (open_for <=> whose)
        AND NOT EXISTS (SELECT * FROM \`lead\` other WHERE other.open_for = one.whose AND other.pipeline = one.pipeline AND other.id <> one.id))`,
    mend: run(
      `UPDATE IGNORE \`lead\` SET open_for = IF(status = 'open' AND test = 0, ${OPEN_FOR}, NULL) WHERE id IN (?)`,
    ),
  },
  {
    key: 'undecided',
    what: 'leads without a decision',
    sql: 'SELECT id FROM `lead` WHERE NOT EXISTS (SELECT * FROM decision WHERE decision.record = `lead`.id)',
    mend: null,
  },
  {
    key: 'records',
    what: 'records that are no lead, contact, company or deal',
    sql: `SELECT id FROM record WHERE ${RECORD_KINDS.map(
      (kind) => `(kind = '${kind}' AND NOT EXISTS (SELECT * FROM \`${kind}\` r WHERE r.id = record.id))`,
    ).join(' OR ')}`,
    mend: run("UPDATE record SET kind = 'removed' WHERE id IN (?)"),
  },
  {
    key: 'unrecorded',
    what: 'leads whose id is no record',
    sql: "SELECT id FROM `lead` WHERE NOT EXISTS (SELECT * FROM record WHERE record.id = `lead`.id AND record.kind = 'lead')",
    mend: run(
      "INSERT INTO record (id, kind, created_at) SELECT id, 'lead', arrived FROM `lead` WHERE id IN (?) ON DUPLICATE KEY UPDATE kind = 'lead'",
    ),
  },
  orphans('field_value', A_RECORD),
  orphans('said_value', A_RECORD),
  orphans('task', A_RECORD),
  orphans('proposal', `${A_RECORD} UNION ALL SELECT j.id FROM joined_lead j WHERE j.id = t.record`),
  {
    key: 'settled-proposals',
    what: 'leads and deals with an open proposal although they are closed or in another stage',
    sql: PIPELINE_KINDS.map(
      (kind) =>
        `SELECT DISTINCT p.record AS id FROM proposal p JOIN \`${kind}\` r ON r.id = p.record WHERE p.state = 'open' AND (r.status <> 'open' OR r.stage <> p.stage)`,
    ).join(' UNION '),
    mend: async (manager, ids, now) => {
      await manager.query(
        "UPDATE proposal SET state = 'withdrawn', open_gate = NULL, why = 'left-stage', decided_at = ? WHERE state = 'open' AND record IN (?)",
        [now, ids],
      );
    },
  },
  orphans('activity', A_RECORD),
  orphans('decision', `${A_LEAD} UNION ALL SELECT j.id FROM joined_lead j WHERE j.id = t.record`),
  orphans('side_score', A_RECORD),
  {
    key: 'ties',
    what: 'leads and deals tied to a contact or company that is not there',
    sql: `SELECT id FROM \`lead\` t WHERE (contact IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact c WHERE c.id = t.contact))
      OR (company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company c WHERE c.id = t.company_id))
      UNION ALL SELECT id FROM deal t WHERE (contact IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact c WHERE c.id = t.contact))
      OR (company IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company c WHERE c.id = t.company))`,
    mend: null,
  },
];
