import type { AskedCells, RecordPage, RecordQuery, RecordRow, TieName } from '@relvik/contracts';
import { type Status, type TieKind, type UnroutedKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { inSight, type Sight } from '../session/sight';
import { LeadEntity } from '../store/entity/lead.entity';
import { shownScores } from '../store/entity/scored.entity';
import { LIST_KINDS } from './list-kinds';
import { cellsOf, pageOf, type Scored } from './page';
import { ShownGrades } from './shown-grades';

/** A contact, company or deal as it is read for a list. */
export type ListedRecord = Scored & {
  readonly owner: string | null;
  readonly arrived: Date;
  readonly contact?: number | null;
  readonly company?: number | null;
  readonly status?: Status;
  readonly stage?: string;
};

/** Names of contacts and companies by id; of those without a name the e-mail. */
export async function tieNames(
  manager: EntityManager,
  kind: TieKind,
  ids: readonly (number | null | undefined)[],
): Promise<ReadonlyMap<number, TieName>> {
  const asked = [...new Set(ids.flatMap((id) => id ?? []))];
  if (asked.length === 0) return new Map();
  const name = kind === 'contact' ? "COALESCE(NULLIF(name, ''), email, '')" : 'name';
  const rows = await manager.query<TieName[]>(`SELECT id, ${name} AS name FROM ${kind} WHERE id IN (?)`, [asked]);
  return new Map(rows.map((row) => [row.id, row]));
}

/** How many leads of each contact or company are in sight. */
async function leadsOf(
  manager: EntityManager,
  kind: UnroutedKind,
  sight: Sight,
  ids: readonly number[],
): Promise<ReadonlyMap<number, number>> {
  if (ids.length === 0 || kind === 'deal') return new Map();
  const tie = kind === 'contact' ? 'lead.contact' : 'lead.companyId';
  const query = manager
    .createQueryBuilder(LeadEntity, 'lead')
    .select(tie, 'of')
    .addSelect('COUNT(*)', 'count')
    .where(`${tie} IN (:...ids)`, { ids });
  const rows = await inSight(query, sight).groupBy(tie).getRawMany<{ of: number; count: string }>();
  return new Map(rows.map(({ of, count }) => [of, Number(count)]));
}

/** Rows of a list without its cells. */
export async function rowsOfRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  sight: Sight,
  rows: readonly ListedRecord[],
): Promise<Omit<RecordRow, keyof AskedCells>[]> {
  const [leads, contacts, companies, grades] = await Promise.all([
    leadsOf(
      manager,
      kind,
      sight,
      rows.map(({ id }) => id),
    ),
    tieNames(
      manager,
      'contact',
      rows.map(({ contact }) => contact),
    ),
    tieNames(
      manager,
      'company',
      rows.map(({ company }) => company),
    ),
    ShownGrades.of(manager, rows),
  ]);
  const names = { contact: contacts, company: companies };
  return rows.map((row) => {
    const { id, name, owner, admitted, scoreSet, arrived, status = null, stage = null } = row;
    const tie = (of: TieKind): TieName | null => names[of].get(row[of] ?? 0) ?? null;
    return {
      ...{ id, name, owner, admitted, scoreSet, status, stage },
      arrived: arrived.getTime(),
      ...shownScores(row),
      ...grades.shown(row),
      ties: { contact: tie('contact'), company: tie('company') },
      leads: leads.get(id) ?? 0,
    };
  });
}

/** One page of contacts, companies or deals in their order; the next page begins after this one's last row, however deep. */
export async function listRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  sight: Sight,
  by: RecordQuery,
  now: Date,
): Promise<RecordPage> {
  const { rows: found, next } = await pageOf(manager, LIST_KINDS[kind], sight, by, now);
  const rows = found as ListedRecord[];
  const cells = await cellsOf(manager, rows, by);
  const shown = await rowsOfRecords(manager, kind, sight, rows);
  return {
    rows: shown.map((row) => Object.assign(row, cells(row.id))),
    asOf: (await asOf(manager, kind, now)).getTime(),
    next,
  };
}

/** The instant as of which all scores of a kind are right: now, unless some are due and not yet computed. */
async function asOf(manager: EntityManager, kind: UnroutedKind, now: Date): Promise<Date> {
  const [due] = await manager.query<{ oldest: Date | null }[]>(
    `SELECT MIN(due) AS oldest FROM ${kind} WHERE due <= ?`,
    [now],
  );
  return due?.oldest ?? now;
}
