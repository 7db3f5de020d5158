import { entryOf, pipelineOfStage, type Stage, statusIn, type UnroutedKind, type Value } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { CompanyEntity } from '../store/entity/company.entity';
import { ContactEntity } from '../store/entity/contact.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import type { LeadEntity } from '../store/entity/lead.entity';
import { SuggestionEntity } from '../store/entity/suggestion.entity';
import { UNSCORED } from '../store/entity/unrouted.entity';
import type { Governing } from '../store/governing';
import { newRecords } from '../store/new-records';
import { insertRows } from '../store/rows';
import { type ChangeSource, lineBy } from './change-source';
import { decideDeal } from './decide-deals';
import { keepCompanyKeys, type PartyKeys } from './party-keys';
import { writeRecordValues } from './record-values';
import { companyIdentity } from './settle-ties';
import { touchParties } from './touch-parties';

/** The ties of a new record. */
export interface Given {
  readonly contact: number | null;
  readonly company: number | null;
  readonly lead: LeadEntity | null;
}

/** A contact, company or deal that is to be made. */
export interface NewRecordData {
  readonly name: string;
  readonly owner: string | null;
  readonly values: ReadonlyMap<string, Value>;
  readonly given: Given;
  readonly keys: PartyKeys;
  /** The stage in which a deal begins; null: the first of its pipeline. */
  readonly stage: Stage | null;
  /** The company that may be the same; null: none. */
  readonly alike: number | null;
}

/**
 * Makes a contact, company or deal, with its values and history. A deal is decided at once, the others are scored a moment later.
 *
 * @returns its id
 */
export async function insertRecord(
  manager: EntityManager,
  kind: UnroutedKind,
  { name, owner, values, given, keys, stage, alike }: NewRecordData,
  governing: Governing,
  by: ChangeSource,
): Promise<number> {
  const { at } = by;
  const [id = 0] = await newRecords(manager, [{ kind, at }]);
  const { charter } = governing.ready;
  const status = stage === null ? 'open' : statusIn(stage);
  const begun = { ...UNSCORED, ...{ id, version: 1, name, owner, arrived: at, touchedAt: at, due: at } };
  switch (kind) {
    case 'contact':
      await insertRows(manager, ContactEntity, [{ ...begun, email: keys.email, company: given.company }]);
      break;
    case 'company':
      await insertRows(manager, CompanyEntity, [
        { ...begun, country: keys.clue.country, identity: companyIdentity(keys.clue) },
      ]);
      await keepCompanyKeys(manager, { id }, keys.clue);
      break;
    case 'deal':
      await insertRows(manager, DealEntity, [
        {
          ...begun,
          ...{ contact: given.contact, company: given.company, lead: given.lead?.id ?? null },
          ...{ status, stage: stage?.key ?? entryOf(charter, 'deal'), stageSince: at, looks: {} },
          cameInto: stage === null ? null : (pipelineOfStage(charter, stage.key)?.key ?? null),
          ...{ closedAt: status === 'open' ? null : at, closeReason: null },
        },
      ]);
  }
  if (alike !== null)
    await insertRows(manager, SuggestionEntity, [{ kind: 'company', older: alike, younger: id, at, settled: false }]);
  await writeRecordValues(manager, id, values, by);
  await insertRows(manager, ChangeEntity, [
    { ...lineBy(id, by), field: 'made', from: null, to: given.lead === null ? null : String(given.lead.id) },
  ]);
  await touchParties(manager, [{ contact: given.contact, company: given.company }], at);
  if (kind === 'deal') await decideDeal(manager, id, 'created', governing, by);
  return id;
}
