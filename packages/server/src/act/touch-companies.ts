import type { EntityManager } from 'typeorm';
import { newRecords } from '../store/new-records';
import { NO_RANK } from '../store/entity/scored.entity';
import { CompanyEntity } from '../store/entity/company.entity';

/**
 * Says that leads of companies changed, inside the transaction that changed them: companies that are not known yet are made,
 * all are due to be scored.
 *
 * @param named by folded name, as it is written
 */
export async function touchCompanies(
  manager: EntityManager,
  named: ReadonlyMap<string, string>,
  at: Date,
): Promise<void> {
  // In one order, so that two who touch the same companies wait for each other instead of both.
  const names = [...named.keys()].sort();
  if (names.length === 0) return;
  const touch = async (): Promise<number> => {
    const { affectedRows } = await manager.query<{ affectedRows: number }>(
      'UPDATE company SET due = ?, touched = 1, changes = changes + 1 WHERE folded IN (?)',
      [at, names],
    );
    return affectedRows;
  };
  if ((await touch()) === names.length) return;
  const known = new Set(
    (await manager.query<{ folded: string }[]>('SELECT folded FROM company WHERE folded IN (?)', [names])).map(
      (one) => one.folded,
    ),
  );
  const fresh = names.filter((name) => !known.has(name));
  const ids = await newRecords(
    manager,
    'company',
    fresh.map(() => at),
  );
  if (fresh.length > 0)
    await manager
      .createQueryBuilder()
      .insert()
      // Another server may have made it in this moment.
      .orIgnore()
      .into(CompanyEntity)
      .values(
        fresh.map((folded, i) => ({ ...UNSCORED, id: ids[i] ?? 0, folded, name: named.get(folded) ?? '', due: at })),
      )
      .updateEntity(false)
      .execute();
  await touch();
}

/** A company that no set has scored. */
export const UNSCORED = {
  touched: true,
  changes: 0,
  admitted: 'no',
  scoreSet: null,
  fit: null,
  engagement: null,
  rankOrder: NO_RANK,
  fitBand: null,
  engagementBand: null,
  verdict: null,
  charter: null,
  scoredAt: null,
} as const;
