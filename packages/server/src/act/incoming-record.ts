import {
  type Day,
  dayOf,
  fold,
  formProblem,
  keyOfRole,
  kindOfField,
  type Raw,
  readValue,
  type Stage,
  stagesOf,
  type UnroutedKind,
  type Value,
  countryToReadBy,
} from '@relvik/core';
import { Refused } from '../problem/refused';
import type { Governing } from '../store/governing';
import type { WayIn } from './cause';
import type { ChangeSource } from './change-source';

/** A contact, company or deal sent by a file or by another system. */
export interface IncomingRecord {
  readonly cause: WayIn;
  readonly at: Date;
  readonly values: Readonly<Record<string, Raw>>;
  /** The name of the company of a contact or deal; blank: none is named. */
  readonly company: string;
  /** The e-mail of the contact of a deal; blank: none is named. */
  readonly contact: string;
  /** The stage of a deal, by key or name; null: the first. */
  readonly stage: string | null;
  /** The owner of a record that has none yet. */
  readonly owner: string | null;
  /** Trusted: its values replace known ones; else they fill blanks only. */
  readonly trusted: boolean;
  /** The fields that may be set this way; null: all. */
  readonly allowed: ReadonlySet<string> | null;
}

interface FieldRefusal {
  readonly field: string;
  readonly message: string;
}

interface FieldProblem {
  readonly path: string;
  readonly message: string;
}

const NOT_ALLOWED = 'may not be set this way in';

/** The fields that can't be taken in, with the reasons. */
export function recordRefusals(
  kind: UnroutedKind,
  { values, allowed }: Pick<IncomingRecord, 'values' | 'allowed'>,
  { world }: Pick<Governing, 'world'>,
): FieldRefusal[] {
  return Object.entries(values).flatMap(([key, raw]) => {
    const field = world.fields.get(key);
    if (field === undefined || field.retired || kindOfField(key) !== kind)
      return [{ field: key, message: `is no field of a ${kind}` }];
    if (allowed !== null && !allowed.has(key)) return [{ field: key, message: NOT_ALLOWED }];
    const message = formProblem(field, raw);
    return message === null ? [] : [{ field: key, message }];
  });
}

/**
 * Checks and reads a record that came in. Values that can't be read are kept as such, blank ones are left out.
 *
 * @throws Refused naming every field that can't be taken in
 */
export function readIncoming(
  kind: UnroutedKind,
  incoming: IncomingRecord,
  governing: Governing,
): { readonly values: Map<string, Value>; readonly stage: Stage | null } {
  const { world, ready } = governing;
  const day = dayOf(incoming.at.getTime(), ready.charter.timeZone);
  const errors = [
    ...recordRefusals(kind, incoming, governing).map(({ field, message }) => ({ path: `/values/${field}`, message })),
    ...tieProblems(incoming, governing, day),
  ];
  if (errors.length > 0) throw Refused.invalid(errors);
  const values = new Map<string, Value>();
  for (const [key, raw] of Object.entries(incoming.values)) {
    const field = world.fields.get(key);
    if (field === undefined) continue;
    const country = countryToReadBy(field, world.fields, kind, (one) => incoming.values[one]);
    const value = readValue(field, raw, day, country);
    if (value.kind !== 'blank') values.set(key, value);
  }
  return { values, stage: kind === 'deal' ? readStage(incoming, governing) : null };
}

/** Problems of the company and contact that are named. Naming one may create it, which takes the right to set its name or e-mail. */
function tieProblems({ company, contact, allowed }: IncomingRecord, { world }: Governing, day: Day): FieldProblem[] {
  const isBarred = (key: string | null): boolean => allowed !== null && (key === null || !allowed.has(key));
  const problems: FieldProblem[] = [];
  if (company.trim() !== '' && isBarred(keyOfRole(world.fields, 'company', 'name')))
    problems.push({ path: '/company', message: NOT_ALLOWED });
  if (contact.trim() === '') return problems;
  const key = keyOfRole(world.fields, 'contact', 'email');
  const field = key === null ? undefined : world.fields.get(key);
  if (field === undefined) return [...problems, { path: '/contact', message: 'contacts have no field for an e-mail' }];
  if (isBarred(key)) return [...problems, { path: '/contact', message: NOT_ALLOWED }];
  const value = readValue(field, contact, day);
  return value.kind === 'unreadable' ? [...problems, { path: '/contact', message: value.why }] : problems;
}

function readStage({ stage: named }: IncomingRecord, { ready }: Governing): Stage | null {
  if (named === null) return null;
  const stage = stagesOf(ready.charter, 'deal').find(({ key, name }) => [key, fold(name)].includes(fold(named)));
  if (stage === undefined)
    throw Refused.invalid([{ path: '/stage', message: `no stage of deals is called “${named}”` }]);
  return stage;
}

/** The source of its values: trusted ones stand against older values of leads. */
export function sourceOf({ cause, at, trusted }: IncomingRecord): ChangeSource {
  return { cause, at, origin: trusted ? 'direct' : 'untrusted' };
}
