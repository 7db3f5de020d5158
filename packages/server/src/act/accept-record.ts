import type { AcceptedRecord } from '@relvik/contracts';
import { keyOfRole, sameValue, showValue, type Stage, type UnroutedKind, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { ContactEntity } from '../store/entity/contact.entity';
import { contactsBy } from '../store/find-parties';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { OutOfDate, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { writeChanged } from './change-record';
import { companyClue, findOrCreateCompany, findOrCreateContact, NO_TIES } from './find-or-create-party';
import { type IncomingRecord, readIncoming, sourceOf } from './incoming-record';
import { type Given, insertRecord } from './insert-record';
import { nameByDefault, nameOf } from './make-record';
import { giveOwner } from './own-record';
import { lookUpCompany, partyKeys } from './party-keys';
import { answerOnce, newMark, type RequestMark, untilKnown } from './request-mark';

/** The result of taking a record in, with the values that it replaced on a known one. */
export interface TakenRecord extends AcceptedRecord {
  readonly replaced: readonly { readonly field: string; readonly before: Value | null; readonly after: Value }[];
}

/** A record as it was read, and the known one that it is. */
interface Recognised {
  readonly values: Map<string, Value>;
  readonly stage: Stage | null;
  readonly known: StoredUnrouted | null;
  /** A company of its name that differs in domain or country; null: none. */
  readonly alike: number | null;
}

/**
 * Takes a contact, company or deal in. A contact is recognised by its e-mail, or without one by its name within its company; a company
 * as leads find it; a deal is always new. Values that were set by hand stay.
 *
 * @throws Refused for what can't be taken in; nothing is written then
 */
export async function acceptRecord(
  manager: EntityManager,
  kind: UnroutedKind,
  incoming: IncomingRecord,
  governing: Governing,
): Promise<TakenRecord> {
  const read = readIncoming(kind, incoming, governing);
  const { id, alike } = await recognise(manager, kind, read.values, incoming, governing);
  if (id === null) return create(manager, kind, { ...read, known: null, alike }, incoming, governing);
  const [known] = await loadUnrouted(manager, kind, [id], governing.ready, 'write');
  if (known === undefined) throw new OutOfDate(`${kind} ${id} was joined into another meanwhile`);
  return update(manager, known, read.values, incoming, governing);
}

/** Accepts one record from another system; a repeated request gets the first answer. */
export function acceptRequest(
  source: DataSource,
  kind: UnroutedKind,
  incoming: IncomingRecord,
  given: RequestMark | null,
): Promise<AcceptedRecord> {
  const mark = given ?? newMark();
  return untilKnown((mayBeStored) =>
    inTransaction(source, (manager, attempt) =>
      answerOnce(manager, mark, given !== null || mayBeStored || attempt > 1, incoming.at, async () => {
        const governing = await readGoverning(manager, 'share');
        const { id, known, warnings } = await acceptRecord(manager, kind, incoming, governing);
        return { id, known, warnings };
      }),
    ),
  );
}

async function recognise(
  manager: EntityManager,
  kind: UnroutedKind,
  values: ReadonlyMap<string, Value>,
  { company }: IncomingRecord,
  governing: Governing,
): Promise<{ readonly id: number | null; readonly alike: number | null }> {
  const { email, clue } = partyKeys(kind, values, governing);
  switch (kind) {
    case 'contact':
      return {
        id: email === null ? await namesake(manager, values, company, governing) : await contactWith(manager, email),
        alike: null,
      };
    case 'company': {
      if (clue.name === null) return { id: null, alike: null };
      if (governing.ties.noNames.has(clue.name)) {
        const key = keyOfRole(governing.world.fields, 'company', 'name') ?? 'company.name';
        throw Refused.invalid([{ path: `/values/${key}`, message: 'is a word that names no company' }]);
      }
      const found = await lookUpCompany(manager, clue);
      return {
        id: found.kind === 'known' ? found.company.id : null,
        alike: found.kind === 'new' ? (found.alike?.id ?? null) : null,
      };
    }
    case 'deal':
      return { id: null, alike: null };
  }
}

async function contactWith(manager: EntityManager, email: string): Promise<number | null> {
  return (await contactsBy(manager, [email])).get(email) ?? null;
}

/** The contact without an e-mail who has the same name in the same company. */
async function namesake(
  manager: EntityManager,
  values: ReadonlyMap<string, Value>,
  company: string,
  governing: Governing,
): Promise<number | null> {
  const firm = await lookUpCompany(manager, companyClue(company, null, governing));
  const name = await nameOf(manager, 'contact', values, NO_TIES, governing);
  if (firm.kind !== 'known' || name === '') return null;
  const [found] = await manager.query<{ id: number }[]>(
    'SELECT id FROM contact WHERE company = ? AND name = ? AND email IS NULL ORDER BY id LIMIT 1',
    [firm.company.id, name],
  );
  return found?.id ?? null;
}

async function create(
  manager: EntityManager,
  kind: UnroutedKind,
  { values, stage, alike }: Recognised,
  incoming: IncomingRecord,
  governing: Governing,
): Promise<TakenRecord> {
  // Checked before a company or contact is created for it.
  if (kind !== 'deal') await nameOf(manager, kind, values, NO_TIES, governing);
  else if (incoming.company.trim() === '' && incoming.contact.trim() === '')
    throw Refused.invalid([{ path: '/company', message: 'say whose it is: a company or the e-mail of a contact' }]);
  const keys = partyKeys(kind, values, governing);
  const given = await tiesOf(manager, kind, keys.email, incoming, governing);
  const name = await nameOf(manager, kind, values, given, governing);
  nameByDefault(kind, name, values, governing);
  const fresh = { name, owner: incoming.owner, values, given, keys, stage, alike };
  const id = await insertRecord(manager, kind, fresh, governing, sourceOf(incoming));
  return { id, known: false, warnings: warningsOf(values), replaced: [] };
}

/** The contact and company of a new record; a deal that names a contact alone is of the contact's company. */
async function tiesOf(
  manager: EntityManager,
  kind: UnroutedKind,
  email: string | null,
  incoming: IncomingRecord,
  governing: Governing,
): Promise<Given> {
  switch (kind) {
    case 'company':
      return NO_TIES;
    case 'contact':
      return { ...NO_TIES, company: await findOrCreateCompany(manager, incoming, email, governing) };
    case 'deal': {
      const contact = await findOrCreateContact(manager, incoming, governing);
      const own =
        incoming.company.trim() !== '' || contact === null
          ? null
          : ((await manager.findOneBy(ContactEntity, { id: contact }))?.company ?? null);
      const company = own ?? (await findOrCreateCompany(manager, incoming, incoming.contact || null, governing));
      return { contact, company, lead: null };
    }
  }
}

async function update(
  manager: EntityManager,
  stored: StoredUnrouted,
  values: ReadonlyMap<string, Value>,
  incoming: IncomingRecord,
  governing: Governing,
): Promise<TakenRecord> {
  const { kind, entity, record, origins } = stored;
  const changed = new Map<string, Value>();
  const beside = new Map<string, Value>();
  const warnings = [...warningsOf(values)];
  for (const [field, value] of values) {
    const before = record.values.get(field);
    if (sameValue(before, value)) continue;
    const isByHand = origins.get(field) === 'hand';
    if (before === undefined || (incoming.trusted && !isByHand && isBetter(value, before))) {
      changed.set(field, value);
      continue;
    }
    beside.set(field, value);
    if (isByHand) warnings.push({ field, raw: showValue(value), why: 'is not taken: a hand set another' });
  }
  const isWithoutCompany = entity instanceof ContactEntity && entity.company === null;
  const company = isWithoutCompany ? await findOrCreateCompany(manager, incoming, null, governing) : null;
  const replaced = [...changed].map(([field, after]) => ({ field, before: record.values.get(field) ?? null, after }));
  const from = sourceOf(incoming);
  if (changed.size > 0 || company !== null)
    await writeChanged(manager, stored, changed, governing, from, company ?? undefined);
  if (entity.owner === null && incoming.owner !== null) await giveOwner(manager, kind, entity, incoming.owner, from);
  await keepBeside(manager, entity.id, beside, incoming);
  return { id: entity.id, known: true, warnings, replaced };
}

/** A value that can't be read does not replace one that can. */
function isBetter(value: Value, before: Value): boolean {
  return value.kind !== 'unreadable' || before.kind === 'unreadable';
}

async function keepBeside(
  manager: EntityManager,
  record: number,
  beside: ReadonlyMap<string, Value>,
  { cause, at }: IncomingRecord,
): Promise<void> {
  await replaceRows(
    manager,
    SaidValueEntity,
    [...beside].map(([field, value]) => ({ record, field, value, way: cause.kind, by: cause.name.slice(0, 120), at })),
  );
}

function warningsOf(values: ReadonlyMap<string, Value>): AcceptedRecord['warnings'] {
  return [...values].flatMap(([field, value]) =>
    value.kind === 'unreadable' ? [{ field, raw: value.raw, why: value.why }] : [],
  );
}
