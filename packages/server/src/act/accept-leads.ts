import {
  BLANK,
  type CompanyClue,
  type Day,
  dayOf,
  formProblem,
  type Handling,
  IDENTIFYING,
  keyOfRole,
  kindOfField,
  type Instant,
  joinInquiry,
  JUST_IN,
  type MovingRecord,
  type Raw,
  readValue,
  type RepKey,
  type Value,
  countryToReadBy,
  warningsOf,
} from '@relvik/core';
import type { Accepted } from '@relvik/contracts';
import { type EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal } from '../session/rights';
import { type Governing, readGoverning } from '../store/governing';
import { type Act, edited } from './act';
import { type WayIn, wayOf } from './cause';
import { type Acting, perform } from './perform';
import { openLeads } from './open-leads';
import { keepSaid, type Said } from './said-values';
import { insertRows } from '../store/rows';
import { ActivityEntity } from '../store/entity/history.entity';
import { newRecords } from '../store/new-records';
import { clueOf, identityOf } from '../store/identity';
import { NO_TIES } from '../store/tied-values';

/** A lead that came in, with values that fit the catalogue's keys. */
export interface Inquiry {
  readonly cause: WayIn;
  readonly at: Date;
  readonly values: Readonly<Record<string, Raw>>;
  /** The id of the intake key that sent it. */
  readonly key?: number;
  /** The pipeline into which it comes; null: the first. */
  readonly pipeline?: string | null;
  /** That of its way in, where it names none itself; one that is no more stands for the first. */
  readonly usualPipeline?: string | null;
  /** An owner that is kept. */
  readonly owner: RepKey | null;
  /** To try something: never joins a lead that is known. */
  readonly test?: boolean;
  /** Whether what it says replaces what is known of an open lead; else it fills blanks only. */
  readonly trusted: boolean;
  /** How far rules are asked. Missing: all are. */
  readonly handling?: Handling;
  /** Fields that the way in sets by itself: they fill blanks, and nobody says them. */
  readonly setByItself?: readonly string[];
  /** The fields that this way in may set; all where it isn't said. */
  readonly allowed?: ReadonlySet<string>;
}

/** The activity that a form leaves, and a repeated inquiry on the lead it joins. */
export const INQUIRY_ACTIVITY = 'form_filled';

function isFilled(raw: Raw | undefined): boolean {
  return raw !== undefined && raw !== null && (typeof raw === 'object' || String(raw).trim() !== '');
}

/** Why an inquiry can't be taken in: a field that is not known, or nothing that tells who it is. */
export function refusalOf(
  values: Readonly<Record<string, Raw>>,
  governing: Pick<Governing, 'world'>,
  allowed: ReadonlySet<string> | undefined,
): { field: string; message: string }[] {
  const { fields } = governing.world;
  const refusals = Object.entries(values).flatMap(([field, raw]) => {
    const known = fields.get(field);
    if (known === undefined || known.retired || kindOfField(field) !== 'lead')
      return [{ field, message: 'is no field' }];
    if (allowed !== undefined && !allowed.has(field)) return [{ field, message: 'may not be set this way in' }];
    const message = formProblem(known, raw);
    return message === null ? [] : [{ field, message }];
  });
  const identifying = IDENTIFYING.flatMap((role) => keyOfRole(fields, 'lead', role) ?? []);
  const identified = identifying.some((field) => isFilled(values[field]));
  if (!identified && refusals.length === 0)
    refusals.push({
      field: identifying[0] ?? 'email',
      message: 'nothing tells who it is: give an e-mail, a name or a company',
    });
  return refusals;
}

/** Checks an inquiry inside the transaction: a field may have been retired, or the owner barred from leads, since it was sent. */
function problemsOf(
  { values, allowed, owner, pipeline = null }: Inquiry,
  governing: Governing,
): { readonly path: string; readonly message: string }[] {
  const refusals = refusalOf(values, governing, allowed);
  const problems = refusals.map(({ field, message }) => ({ path: `/values/${field}`, message }));
  if (pipeline !== null && !governing.ready.rules.lead.entries.has(pipeline))
    problems.push({ path: '/pipeline', message: 'is no pipeline of leads' });
  if (owner === null) return problems;
  const rep = governing.world.reps.get(owner);
  const message = ownerRefusal(rep && { ...rep, whyNot: null }, { all: true });
  return message === null ? problems : [...problems, { path: '/owner', message }];
}

/** The key of the pipeline that an inquiry names, or else its way in; null: the first. */
function pipelineOf({ pipeline, usualPipeline = null }: Inquiry, { ready }: Governing): string | null {
  if (pipeline) return pipeline;
  return usualPipeline !== null && ready.rules.lead.entries.has(usualPipeline) ? usualPipeline : null;
}

interface Read {
  readonly inquiry: Inquiry;
  readonly values: Map<string, Value>;
  readonly email: string | null;
  /** Where it names no person: its company, as that is looked up. */
  readonly clue: CompanyClue | null;
  /** The key of the pipeline into which it comes, and the one that was named; null: none. */
  readonly pipeline: string;
  readonly named: string | null;
}

function read(inquiry: Inquiry, governing: Governing, day: Day): Read {
  const values = new Map<string, Value>();
  for (const [key, raw] of Object.entries(inquiry.values)) {
    const field = governing.world.fields.get(key);
    if (field === undefined) continue;
    const country = countryToReadBy(field, governing.world.fields, 'lead', (one) => inquiry.values[one]);
    const value = readValue(field, raw, day, country);
    if (value.kind !== 'blank') values.set(key, value);
  }
  const { email, name } = identityOf({ values }, governing.ties);
  const clue = inquiry.test || email !== null || name !== '' ? null : clueOf({ values }, governing.ties);
  const [first = ''] = governing.ready.rules.lead.entries.keys();
  const named = pipelineOf(inquiry, governing);
  return { inquiry, values, email: inquiry.test ? null : email, clue, pipeline: named ?? first, named };
}

/** The calendar day of instants that lie close together: asked of the calendar once a minute. */
function daysOf(zone: string): (at: Instant) => Day {
  const days = new Map<number, Day>();
  return (at) => {
    const minute = Math.floor(at / 60_000);
    const known = days.get(minute);
    if (known !== undefined) return known;
    const day = dayOf(minute * 60_000, zone);
    days.set(minute, day);
    return day;
  };
}

/** An inquiry with its place among all. */
interface Numbered {
  readonly read: Read;
  readonly at: number;
}

/** The k-th inquiry of the same e-mail, or of the same company without a person, goes into the k-th round, so that it finds the lead of the one before. */
function inRounds(reads: readonly Numbered[]): Numbered[][] {
  const rounds: Numbered[][] = [];
  const seen = new Map<string, number>();
  for (const one of reads) {
    const { email, clue } = one.read;
    const whose = email ?? clue?.name ?? null;
    const round = whose === null ? 0 : (seen.get(whose) ?? 0);
    if (whose !== null) seen.set(whose, round + 1);
    (rounds[round] ??= []).push(one);
  }
  return rounds;
}

/** What became of an inquiry, and the act that it was. */
export interface Taken {
  readonly accepted: Accepted;
  readonly act: Act;
}

/**
 * Takes in leads, inside the caller's transaction: joins what is known, decides, and writes everything.
 *
 * An inquiry of a person who has an open lead in its pipeline, or of a company that has one without a person, joins that lead and
 * stays with its owner.
 *
 * @returns what became of each, in the order given; one that names a field that is not known, or that may not be set, is refused
 */
export async function acceptLeads(acting: Acting, inquiries: readonly Inquiry[]): Promise<(Taken | Refused)[]> {
  const { manager } = acting;
  const governing = await readGoverning(manager, 'share');
  const taken: (Taken | Refused)[] = [];
  const dayAt = daysOf(governing.ready.charter.timeZone);
  const fine = inquiries.flatMap((inquiry, at) => {
    const problems = problemsOf(inquiry, governing);
    if (problems.length === 0) return [{ read: read(inquiry, governing, dayAt(inquiry.at.getTime())), at }];
    taken[at] = Refused.invalid(problems);
    return [];
  });
  for (const round of inRounds(fine)) {
    const { acts, beside } = await actsOf(
      manager,
      round.map(({ read: one }) => one),
    );
    const outcomes = await perform(acting, acts, governing);
    round.forEach(({ at }, i) => {
      const done = outcomes[i];
      if (done !== undefined)
        taken[at] = {
          accepted: {
            id: done.after.id,
            joined: done.act.stored !== null,
            warnings: [...warningsOf(done.act.record), ...unreadableAmong(beside[i] ?? [])],
          },
          act: done.act,
        };
    });
  }
  return taken;
}

/** Keeps which key sent which lead. */
async function keepSenders(manager: EntityManager, sent: readonly (readonly number[])[]): Promise<void> {
  if (sent.length > 0) await manager.query('INSERT IGNORE INTO sent_lead (`key`, record) VALUES ?', [sent]);
}

function unreadableAmong(said: readonly (readonly [field: string, value: Value])[]): Accepted['warnings'] {
  return said.flatMap(([field, value]) =>
    value.kind === 'unreadable' ? [{ field, raw: value.raw, why: value.why }] : [],
  );
}

/** The acts of inquiries, and what each said that is not taken. */
async function actsOf(
  manager: EntityManager,
  reads: readonly Read[],
): Promise<{ readonly acts: Act[]; readonly beside: readonly (readonly [field: string, value: Value])[][] }> {
  const knownLead = await openLeads(manager, reads);

  const fresh = reads.filter((one) => knownLead(one) === undefined);
  const ids = await newRecords(
    manager,
    fresh.map(({ inquiry: { at } }) => ({ kind: 'lead', at })),
  );
  const freshAt = new Map(fresh.map((one, i) => [one, i]));
  const activityRows: Partial<ActivityEntity>[] = [];
  const said: Said[] = [];
  const beside = reads.map((): [string, Value][] => []);

  const acts = reads.map((one, n): Act => {
    const { inquiry, values } = one;
    const { at, cause, test = false, handling = 'decide' } = inquiry;
    const lead = knownLead(one);
    if (lead !== undefined) {
      const joined = joinInquiry(lead.record.values, values, inquiry.trusted);
      const others = joined.beside.filter((field) => !inquiry.setByItself?.includes(field));
      beside[n] = others.map((field) => [field, values.get(field) ?? BLANK]);
      said.push({ lead, beside: new Map(beside[n]), settled: joined.changed, cause, at });
      activityRows.push({ record: lead.entity.id, kind: INQUIRY_ACTIVITY, at });
      const activities = [...lead.record.activities, { kind: INQUIRY_ACTIVITY, at: at.getTime() }];
      const changed = new Map(joined.changed.map((field) => [field, values.get(field) ?? BLANK]));
      return {
        ...edited({ ...lead, record: { ...lead.record, activities } }, changed, 'joined', cause, at, handling),
        trusted: inquiry.trusted,
      };
    }
    const id = ids[freshAt.get(one) ?? 0];
    // Filling a form is an activity, not only an arrival.
    const activities = cause.kind === 'form' ? [{ kind: INQUIRY_ACTIVITY, at: at.getTime() }] : [];
    if (cause.kind === 'form') activityRows.push({ record: id, kind: INQUIRY_ACTIVITY, at });
    const record: MovingRecord = {
      id: String(id),
      kind: 'lead',
      arrived: at.getTime(),
      way: wayOf(cause),
      values,
      activities,
      standing: {
        ...JUST_IN,
        cameInto: one.named,
        place: inquiry.owner === null ? null : { kind: 'owner', rep: inquiry.owner },
      },
    };
    return {
      record,
      stored: null,
      test,
      asOf: at,
      cause,
      trusted: inquiry.trusted,
      values,
      valuesBefore: new Map(),
      change: { kind: 'decide', occasion: 'created', person: null, handling },
      ties: NO_TIES,
    };
  });
  await insertRows(manager, ActivityEntity, activityRows);
  await keepSaid(manager, said);
  await keepSenders(
    manager,
    reads.flatMap(({ inquiry }, n) => (inquiry.key === undefined ? [] : [[inquiry.key, Number(acts[n]?.record.id)]])),
  );
  return { acts, beside };
}
