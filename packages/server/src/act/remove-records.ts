import type { UnroutedKind } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { CompanyKeyEntity } from '../store/entity/company.entity';
import { ContactAliasEntity } from '../store/entity/contact.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ActivityEntity, ChangeEntity } from '../store/entity/history.entity';
import { RecordEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { TaskEntity } from '../store/entity/task.entity';
import type { StoredUnrouted } from '../store/load-unrouted';
import { insertRows } from '../store/rows';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { touchAbove } from './change-record';
import { recountDeals } from './follow-deals';
import { type ChangeSource, lineBy } from './change-source';

/**
 * Removes contacts, companies or deals that should never have been, to which nothing is tied. What is left is the record's id and
 * its history, with who removed it and why.
 *
 * They must be locked.
 */
export async function removeRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  records: readonly StoredUnrouted[],
  by: Pick<ChangeSource, 'cause' | 'at'>,
  reason: string,
): Promise<void> {
  const ids = records.map(({ entity }) => entity.id);
  if (ids.length === 0) return;
  await manager.update(RecordEntity, { id: In(ids) }, { kind: 'removed' });
  await insertRows(
    manager,
    ChangeEntity,
    ids.map((id) => ({ ...lineBy(id, by), field: 'place', from: null, to: null, reason })),
  );
  await manager.delete(UNROUTED_ENTITIES[kind], { id: In(ids) });
  const ofLeads = records.flatMap(({ entity }) =>
    entity instanceof DealEntity && entity.lead !== null ? [{ lead: entity.lead, name: entity.name }] : [],
  );
  await recountDeals(
    manager,
    ofLeads.map(({ lead }) => lead),
  );
  await insertRows(
    manager,
    ChangeEntity,
    ofLeads.map(({ lead, name }) => ({ ...lineBy(lead, by), field: 'deal', from: name, to: 'removed', reason })),
  );
  for (const entity of [FieldValueEntity, SaidValueEntity, SideScoreEntity, ActivityEntity, ProposalEntity, TaskEntity])
    await manager.delete(entity, { record: In(ids) });
  await manager.delete(CompanyKeyEntity, { company: In(ids) });
  await manager.delete(ContactAliasEntity, { contact: In(ids) });
  await manager.query('DELETE FROM suggestion WHERE older IN (?) OR younger IN (?)', [ids, ids]);
  for (const { entity } of records) await touchAbove(manager, kind, entity, null, by.at);
}
