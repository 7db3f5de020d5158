import {
  dayOf,
  domainOf,
  findCompany,
  CompanyIndex,
  fold,
  formProblem,
  keyOfRole,
  kindOfField,
  type Raw,
  readValue,
  sameValue,
  showValue,
  type Stage,
  stagesOf,
  type TieKind,
  type UnroutedKind,
  type Value,
} from '@relvik/core';
import type { AcceptedRecord } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { AnsweredRequestEntity } from '../store/entity/intake.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { companiesBy, contactsBy } from '../store/find-parties';
import { type Governing, readGoverning } from '../store/governing';
import { foldedName } from '../store/identity';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { insertRows, OutOfDate, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import type { WayIn } from './cause';
import { type Told, writeChanged } from './change-record';
import { type Given, insertRecord } from './insert-record';
import { nameByDefault, nameOf } from './make-record';
import { giveOwner } from './own-record';
import { partyKeys } from './party-keys';
import { answerTo, newMark, type RequestMark, untilKnown } from './request-mark';

/** A contact, company or deal as a file or another system tells of it. */
export interface Telling {
  readonly cause: WayIn;
  readonly at: Date;
  readonly values: Readonly<Record<string, Raw>>;
  /** The name of its company, for a contact or deal; blank: none is named. */
  readonly company: string;
  /** The e-mail of its contact, for a deal; blank: none is named. */
  readonly contact: string;
  /** The stage of a deal; null: the first. */
  readonly stage: string | null;
  /** Whose it is where it is nobody's yet. */
  readonly owner: string | null;
  /** Whether what it says replaces what is known; else it fills blanks only. */
  readonly trusted: boolean;
  /** The fields that this way in may set; null: all. */
  readonly allowed: ReadonlySet<string> | null;
}

/** What became of it, and what it changed on a record that was known. */
export interface TakenRecord extends AcceptedRecord {
  readonly replaced: readonly { readonly field: string; readonly before: Value | null; readonly after: Value }[];
}

/**
 * Takes in what is told of a contact, company or deal. A contact is known by its e-mail, or without one by its name in its company; a
 * company as leads find it; a deal is always another. What a hand set on a known one stays.
 *
 * @throws Refused for what can't be taken in; nothing is written then
 */
export async function acceptRecord(
  manager: EntityManager,
  kind: UnroutedKind,
  telling: Telling,
  governing: Governing,
): Promise<TakenRecord> {
  const values = valuesTold(kind, telling, governing);
  const stage = stageTold(kind, telling, governing);
  const known = await knownRecord(manager, kind, values, telling, governing);
  return known === null
    ? makeTold(manager, kind, values, stage, telling, governing)
    : changeTold(manager, known, values, telling, governing);
}

/** The fields of what is told that can't be taken in. */
export function recordRefusals(
  kind: UnroutedKind,
  { values, allowed }: Pick<Telling, 'values' | 'allowed'>,
  { world }: Pick<Governing, 'world'>,
): { readonly field: string; readonly message: string }[] {
  return Object.entries(values).flatMap(([key, raw]) => {
    const field = world.fields.get(key);
    if (field === undefined || field.retired || kindOfField(key) !== kind)
      return [{ field: key, message: `is no field of a ${kind}` }];
    if (allowed !== null && !allowed.has(key)) return [{ field: key, message: 'may not be set this way in' }];
    const message = formProblem(field, raw);
    return message === null ? [] : [{ field: key, message }];
  });
}

/** Naming a company or contact may make it: the way in has to be allowed its name or e-mail. */
function tieRefusals({ company, contact, allowed }: Telling, { world }: Governing): ReturnType<typeof recordRefusals> {
  const barred = (named: string, key: string | null): boolean =>
    named.trim() !== '' && allowed !== null && (key === null || !allowed.has(key));
  const message = 'may not be set this way in';
  return [
    ...(barred(company, keyOfRole(world.fields, 'company', 'name')) ? [{ field: '/company', message }] : []),
    ...(barred(contact, keyOfRole(world.fields, 'contact', 'email')) ? [{ field: '/contact', message }] : []),
  ];
}

function valuesTold(kind: UnroutedKind, telling: Telling, governing: Governing): Map<string, Value> {
  const refused = [...recordRefusals(kind, telling, governing), ...tieRefusals(telling, governing)];
  if (refused.length > 0)
    throw Refused.invalid(
      refused.map(({ field, message }) => ({ path: field.startsWith('/') ? field : `/values/${field}`, message })),
    );
  const day = dayOf(telling.at.getTime(), governing.ready.charter.timeZone);
  const values = new Map<string, Value>();
  for (const [key, raw] of Object.entries(telling.values)) {
    const field = governing.world.fields.get(key);
    const value = field && readValue(field, raw, day);
    if (value !== undefined && value.kind !== 'blank') values.set(key, value);
  }
  return values;
}

/** @returns null: it is told of none */
function stageTold(kind: UnroutedKind, { stage: named }: Telling, { ready }: Governing): Stage | null {
  if (kind !== 'deal' || named === null) return null;
  const stage = stagesOf(ready.charter, 'deal').find(({ key, name }) => [key, fold(name)].includes(fold(named)));
  if (stage === undefined)
    throw Refused.invalid([{ path: '/stage', message: `no stage of deals is called “${named}”` }]);
  return stage;
}

async function knownRecord(
  manager: EntityManager,
  kind: UnroutedKind,
  values: ReadonlyMap<string, Value>,
  { company }: Telling,
  governing: Governing,
): Promise<StoredUnrouted | null> {
  const id = await knownId(manager, kind, values, company, governing);
  if (id === null) return null;
  const [stored] = await loadUnrouted(manager, kind, [id], governing.ready, 'write');
  if (stored === undefined) throw new OutOfDate(`${kind} ${id} was joined into another meanwhile`);
  return stored;
}

async function knownId(
  manager: EntityManager,
  kind: UnroutedKind,
  values: ReadonlyMap<string, Value>,
  company: string,
  governing: Governing,
): Promise<number | null> {
  const { email, clue } = partyKeys(kind, values, governing);
  switch (kind) {
    case 'contact': {
      if (email !== null) return (await contactsBy(manager, [email])).get(email) ?? null;
      const firm = await companyAt(manager, company, null, governing);
      if (firm.kind !== 'known' || clue.name === null) return null;
      const [namesake] = await manager.query<{ id: number }[]>(
        'SELECT id FROM contact WHERE company = ? AND name = ? AND email IS NULL ORDER BY id LIMIT 1',
        [firm.id, await nameOf(manager, kind, values, NO_TIES, governing)],
      );
      return namesake?.id ?? null;
    }
    case 'company': {
      if (clue.name === null) return null;
      const found = findCompany(
        clue,
        new CompanyIndex(await companiesBy(manager, [clue.name], clue.domain === null ? [] : [clue.domain])),
      );
      return found.kind === 'known' ? found.company.id : null;
    }
    case 'deal':
      return null;
  }
}

const NO_TIES: Given = { contact: null, company: null, lead: null };

type CompanyAt =
  | { readonly kind: 'known'; readonly id: number }
  /** One of that name is to be made. */
  | { readonly kind: 'new'; readonly name: string; readonly alike: number | null }
  | { readonly kind: 'none' };

/** The company of that name, else with the domain of an e-mail. */
async function companyAt(
  manager: EntityManager,
  named: string,
  email: string | null,
  { ties }: Governing,
): Promise<CompanyAt> {
  const name = foldedName(named);
  const domain = email === null ? null : domainOf(email);
  const clue = {
    name: name === '' || ties.noNames.has(name) ? null : name,
    domain: domain === null || ties.isFree(domain) ? null : domain,
    country: null,
  };
  const known = await companiesBy(
    manager,
    clue.name === null ? [] : [clue.name],
    clue.domain === null ? [] : [clue.domain],
  );
  const found = findCompany(clue, new CompanyIndex(known));
  switch (found.kind) {
    case 'known':
      return { kind: 'known', id: found.company.id };
    case 'new':
      return { kind: 'new', name: named.trim(), alike: found.alike?.id ?? null };
    case 'none':
      return found;
  }
}

/** The id of the company that is named, or that the e-mail is of; one that nobody knew is made. */
async function companyTold(
  manager: EntityManager,
  { company, ...telling }: Telling,
  email: string | null,
  governing: Governing,
): Promise<number | null> {
  const found = await companyAt(manager, company, email, governing);
  switch (found.kind) {
    case 'known':
      return found.id;
    case 'none':
      return null;
    case 'new':
      return madeParty(manager, 'company', { name: found.name }, found.alike, telling, governing);
  }
}

async function contactTold(
  manager: EntityManager,
  { contact, ...telling }: Telling,
  governing: Governing,
): Promise<number | null> {
  const email = fold(contact);
  if (email === '') return null;
  const known = (await contactsBy(manager, [email])).get(email);
  return known ?? madeParty(manager, 'contact', { email: contact.trim() }, null, telling, governing);
}

/** Makes a company or contact of which nothing is known yet but its name or e-mail. */
async function madeParty(
  manager: EntityManager,
  kind: TieKind,
  told: { readonly name?: string; readonly email?: string },
  alike: number | null,
  { cause, at }: Pick<Telling, 'cause' | 'at'>,
  governing: Governing,
): Promise<number> {
  const values = new Map<string, Value>();
  for (const role of ['name', 'email'] as const) {
    const key = keyOfRole(governing.world.fields, kind, role);
    const text = told[role];
    if (key !== null && text !== undefined) values.set(key, { kind: 'text', text, folded: fold(text) });
  }
  const fresh = { name: told.name ?? '', owner: null, values, given: NO_TIES, stage: null, alike };
  const keys = partyKeys(kind, values, governing);
  return insertRecord(manager, kind, { ...fresh, keys }, governing, { cause, at, origin: 'trusted' });
}

function toldOf({ cause, at, trusted }: Telling): Told {
  return { cause, at, origin: trusted ? 'direct' : 'untrusted' };
}

async function makeTold(
  manager: EntityManager,
  kind: UnroutedKind,
  values: Map<string, Value>,
  stage: Stage | null,
  telling: Telling,
  governing: Governing,
): Promise<TakenRecord> {
  const keys = partyKeys(kind, values, governing);
  // Before anything is written: what has no name is refused.
  if (kind !== 'deal') await nameOf(manager, kind, values, NO_TIES, governing);
  else if (telling.company.trim() === '' && telling.contact.trim() === '')
    throw Refused.invalid([{ path: '/company', message: 'say whose it is: a company or the e-mail of a contact' }]);
  const contact = kind === 'deal' ? await contactTold(manager, telling, governing) : null;
  const email = kind === 'deal' ? telling.contact || null : keys.email;
  const company = kind === 'company' ? null : await companyTold(manager, telling, email, governing);
  const given: Given = { contact, company, lead: null };
  const name = await nameOf(manager, kind, values, given, governing);
  nameByDefault(kind, name, values, governing);
  const alike = kind === 'company' ? await alikeOf(manager, keys.clue) : null;
  const fresh = { name, owner: telling.owner, values, given, keys, stage, alike };
  const id = await insertRecord(manager, kind, fresh, governing, toldOf(telling));
  return { id, known: false, warnings: warningsOf(values), replaced: [] };
}

/** A company of that name which differs in domain or country. */
async function alikeOf(manager: EntityManager, clue: ReturnType<typeof partyKeys>['clue']): Promise<number | null> {
  if (clue.name === null) return null;
  const found = findCompany(clue, new CompanyIndex(await companiesBy(manager, [clue.name], [])));
  return found.kind === 'new' ? (found.alike?.id ?? null) : null;
}

async function changeTold(
  manager: EntityManager,
  stored: StoredUnrouted,
  values: ReadonlyMap<string, Value>,
  telling: Telling,
  governing: Governing,
): Promise<TakenRecord> {
  const { kind, entity, record, origins } = stored;
  const told = toldOf(telling);
  const changed = new Map<string, Value>();
  const beside = new Map<string, Value>();
  const warnings = [...warningsOf(values)];
  for (const [field, value] of values) {
    const standing = record.values.get(field);
    if (sameValue(standing, value)) continue;
    const isByHand = origins.get(field) === 'hand';
    if (standing === undefined || (telling.trusted && !isByHand && isBetter(value, standing))) {
      changed.set(field, value);
      continue;
    }
    beside.set(field, value);
    if (isByHand) warnings.push({ field, raw: showValue(value), why: 'is not taken: a hand set another' });
  }
  const company =
    kind === 'contact' && 'company' in entity && entity.company === null
      ? await companyTold(manager, telling, null, governing)
      : null;
  const replaced = [...changed].map(([field, after]) => ({ field, before: record.values.get(field) ?? null, after }));
  if (changed.size > 0 || company !== null)
    await writeChanged(manager, stored, changed, governing, told, company ?? undefined);
  if (entity.owner === null && telling.owner !== null) await giveOwner(manager, kind, entity, telling.owner, told);
  await keepBeside(manager, entity.id, beside, telling);
  return { id: entity.id, known: true, warnings, replaced };
}

/** A value that can't be read does not replace one that can. */
function isBetter(value: Value, standing: Value): boolean {
  return value.kind !== 'unreadable' || standing.kind === 'unreadable';
}

async function keepBeside(
  manager: EntityManager,
  record: number,
  beside: ReadonlyMap<string, Value>,
  { cause, at }: Telling,
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

/** Takes in one record that another system tells of; the same request again finds the first one's answer. */
export function acceptTold(
  source: DataSource,
  kind: UnroutedKind,
  telling: Telling,
  given: RequestMark | null,
): Promise<AcceptedRecord> {
  const mark = given ?? newMark();
  return untilKnown((mayBeStored) =>
    inTransaction(source, async (manager, attempt) => {
      if (mayBeStored || attempt > 1 || given !== null) {
        const answered = await answerTo(manager, mark);
        if (answered !== null) return answered as AcceptedRecord;
      }
      const governing = await readGoverning(manager, 'share');
      const { id, known, warnings } = await acceptRecord(manager, kind, telling, governing);
      const answer: AcceptedRecord = { id, known, warnings };
      await insertRows(manager, AnsweredRequestEntity, [{ ...mark, answer, at: telling.at }]);
      return answer;
    }),
  );
}
