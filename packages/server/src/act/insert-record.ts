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
import { decideNewDeals } from './decide-deals';
import { keepCompanyKeys, type PartyKeys } from './party-keys';
import { writeValuesOf } from './record-values';
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
  data: NewRecordData,
  governing: Governing,
  by: ChangeSource,
): Promise<number> {
  const [id = 0] = await insertRecords(manager, kind, [{ ...data, by }], governing);
  return id;
}

/** The same of several; returns their ids in order. */
export async function insertRecords(
  manager: EntityManager,
  kind: UnroutedKind,
  all: readonly (NewRecordData & { readonly by: ChangeSource })[],
  governing: Governing,
): Promise<number[]> {
  const ids = await newRecords(
    manager,
    all.map(({ by: { at } }) => ({ kind, at })),
  );
  const made = all.map((one, i) => ({ ...one, id: ids[i] ?? 0 }));
  switch (kind) {
    case 'contact':
      await insertRows(
        manager,
        ContactEntity,
        made.map((one) => ({ ...begun(one), email: one.keys.email, company: one.given.company })),
      );
      break;
    case 'company':
      await insertRows(
        manager,
        CompanyEntity,
        made.map((one) => ({
          ...begun(one),
          ...{ country: one.keys.clue.country, identity: companyIdentity(one.keys.clue) },
        })),
      );
      for (const { id, keys } of made) await keepCompanyKeys(manager, { id }, keys.clue);
      break;
    case 'deal':
      await insertRows(
        manager,
        DealEntity,
        made.map((one) => ({ ...begun(one), ...dealColumns(one, governing) })),
      );
  }
  await insertRows(
    manager,
    SuggestionEntity,
    made.flatMap(({ id, alike, by: { at } }) =>
      alike === null ? [] : [{ kind: 'company' as const, older: alike, younger: id, at, settled: false }],
    ),
  );
  await writeValuesOf(
    manager,
    made.map(({ id, values, by }) => ({ record: id, values, by })),
  );
  await insertRows(
    manager,
    ChangeEntity,
    made.map(({ id, given: { lead }, by }) => ({
      ...{ ...lineBy(id, by), field: 'made', from: null },
      to: lead === null ? null : String(lead.id),
    })),
  );
  const [first] = made;
  if (first === undefined) return ids;
  await touchParties(
    manager,
    made.map(({ given: { contact, company } }) => ({ contact, company })),
    first.by.at,
  );
  if (kind === 'deal') await decideNewDeals(manager, made, governing);
  return ids;
}

type Made = NewRecordData & { readonly by: ChangeSource; readonly id: number };

function begun({ id, name, owner, by: { at } }: Made) {
  return { ...UNSCORED, ...{ id, version: 1, name, owner, arrived: at, touchedAt: at, due: at } };
}

function dealColumns({ given, stage, by: { at } }: Made, { ready: { charter } }: Governing): Partial<DealEntity> {
  const status = stage === null ? 'open' : statusIn(stage);
  return {
    ...{ contact: given.contact, company: given.company, lead: given.lead?.id ?? null },
    ...{ status, stage: stage?.key ?? entryOf(charter, 'deal'), stageSince: at, looks: {} },
    cameInto: stage === null ? null : (pipelineOfStage(charter, stage.key)?.key ?? null),
    ...{ closedAt: status === 'open' ? null : at, closeReason: null },
  };
}
