import type { NewRecord } from '@relvik/contracts';
import { fold, keyOfRole, pipelinesOf, showValue, type Stage, type UnroutedKind, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal } from '../session/rights';
import { inSight, type Sight, sightOf } from '../session/sight';
import { CompanyEntity } from '../store/entity/company.entity';
import { ContactEntity } from '../store/entity/contact.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { type Governing, readGoverning } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { readRecordValues, tieGiven } from './change-record';
import { handSource } from './change-source';
import type { Hand } from './hand';
import { type Given, insertRecord } from './insert-record';
import { partyKeys, refuseKnown } from './party-keys';

/**
 * Makes a contact, company or deal by hand. A rep's is their own; a deal belongs to a lead, contact or company, takes over what that is
 * tied to, and is called after the company where it has no name.
 *
 * @returns its id
 */
export function makeRecord(source: DataSource, kind: UnroutedKind, made: NewRecord, hand: Hand): Promise<number> {
  return inTransaction(source, async (manager) => {
    const governing = await readGoverning(manager, 'share');
    const sight = await sightOf(manager, hand.user);
    const given = await givenTies(manager, kind, made, sight);
    const values = readRecordValues(kind, made.values, new Map(), governing, hand.at);
    for (const [key, value] of [...values]) if (value.kind === 'blank') values.delete(key);
    const owner = await ownerGiven(manager, kind, made.owner, given, sight, hand);
    const name = await nameOf(manager, kind, values, given, governing);
    nameByDefault(kind, name, values, governing);
    const keys = partyKeys(kind, values, governing);
    const alike = await refuseKnown(manager, kind, keys, null);
    return insertRecord(
      manager,
      kind,
      { name, owner, values, given, keys, stage: entryStage(kind, made.pipeline ?? null, governing), alike },
      governing,
      handSource(hand),
    );
  });
}

/** The stage that a deal enters where its pipeline is named; null: that of the first. */
function entryStage(kind: UnroutedKind, pipeline: string | null, { ready }: Governing): Stage | null {
  if (pipeline === null) return null;
  const entered = kind === 'deal' ? pipelinesOf(ready.charter, kind).find(({ key }) => key === pipeline) : undefined;
  const stage = entered?.stages.find(({ key }) => key === entered.entry);
  if (stage === undefined)
    throw Refused.invalid([
      { path: '/pipeline', message: kind === 'deal' ? 'is no pipeline of deals' : `a ${kind} is in no pipeline` },
    ]);
  return stage;
}

/** The ties that are named, each in the user's sight; a deal of a lead has those of the lead. */
async function givenTies(
  manager: EntityManager,
  kind: UnroutedKind,
  { contact = null, company = null, lead = null }: NewRecord,
  sight: Sight,
): Promise<Given> {
  const refuse = (path: string, message: string): never => {
    throw Refused.invalid([{ path, message }]);
  };
  if (kind !== 'deal' && (contact !== null || lead !== null))
    refuse(contact === null ? '/lead' : '/contact', `a ${kind} is not tied to it`);
  if (kind === 'company' && company !== null) refuse('/company', 'a company is not tied to it');
  const found = kind !== 'deal' || lead === null ? null : await leadSeen(manager, lead, sight);
  const seen = {
    contact: await tieGiven(manager, 'contact', contact, sight),
    company: await tieGiven(manager, 'company', company, sight),
  };
  const person =
    kind !== 'deal' || seen.contact === null ? null : await manager.findOneBy(ContactEntity, { id: seen.contact });
  const given = {
    contact: seen.contact ?? found?.contact ?? null,
    company: seen.company ?? found?.companyId ?? person?.company ?? null,
    lead: found,
  };
  if (kind !== 'deal') return given;
  if (given.contact === null && given.company === null && given.lead === null)
    refuse('/company', 'say whose it is: a lead, a contact or a company');
  return given;
}

async function leadSeen(manager: EntityManager, id: number, sight: Sight): Promise<LeadEntity> {
  const query = manager.createQueryBuilder(LeadEntity, 'lead').where('lead.id = :id', { id });
  const found = await inSight(query, sight).getOne();
  if (found === null) throw Refused.invalid([{ path: '/lead', message: 'is no lead here' }]);
  return found;
}

/** The owner of a new record: as named; else, of a deal, the owner of its lead; else the rep who makes it. */
async function ownerGiven(
  manager: EntityManager,
  kind: UnroutedKind,
  named: string | null | undefined,
  { lead }: Given,
  sight: Sight,
  { user }: Hand,
): Promise<string | null> {
  if (named != null) {
    if (user.role === 'rep' && named !== user.key)
      throw Refused.invalid([{ path: '/owner', message: 'a rep may make it only for themselves' }]);
    return ownerOf(manager, named, sight);
  }
  if (kind === 'deal' && lead?.owner) return lead.owner;
  return user.role === 'rep' || (kind === 'deal' && user.role === 'manager') ? user.key : null;
}

/** @throws Refused for someone who can't be given it by this user */
export async function ownerOf(manager: EntityManager, key: string, sight: Sight): Promise<string> {
  const person = (await manager.findOneBy(PersonEntity, { key, retired: false })) ?? undefined;
  const refusal = ownerRefusal(person, sight);
  if (refusal !== null) throw Refused.invalid([{ path: '/owner', message: refusal }]);
  return key;
}

/** A deal that is called after its company has that as its name, as any other value. */
export function nameByDefault(
  kind: UnroutedKind,
  name: string,
  values: Map<string, Value>,
  { world }: Governing,
): void {
  const key = keyOfRole(world.fields, kind, 'name');
  if (key !== null && name !== '' && !values.has(key))
    values.set(key, { kind: 'text', text: name, folded: fold(name) });
}

/**
 * The name of a new record: its own; of a deal without one that of its company, else of its lead.
 *
 * @throws Refused for a company without a name, or a contact without both name and e-mail
 */
export async function nameOf(
  manager: EntityManager,
  kind: UnroutedKind,
  values: ReadonlyMap<string, Value>,
  { company, lead }: Given,
  { world }: Governing,
): Promise<string> {
  const key = keyOfRole(world.fields, kind, 'name');
  const own = key === null ? undefined : values.get(key);
  if (own !== undefined) return showValue(own).slice(0, 200);
  if (kind === 'company')
    throw Refused.invalid([{ path: `/values/${key ?? 'company.name'}`, message: 'a company needs a name' }]);
  if (kind === 'contact') {
    const email = keyOfRole(world.fields, kind, 'email');
    const address = email === null ? undefined : values.get(email);
    if (address === undefined)
      throw Refused.invalid([
        { path: `/values/${key ?? 'contact.name'}`, message: 'a contact needs a name or an e-mail' },
      ]);
    return '';
  }
  const firm = company === null ? null : await manager.findOneBy(CompanyEntity, { id: company });
  return (firm?.name ?? (lead?.company || lead?.name) ?? '').slice(0, 200);
}
