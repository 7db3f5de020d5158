import {
  type Decision,
  type Effect,
  fold,
  type Occasion,
  type Place,
  placeCode,
  showValue,
  type Value,
} from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { insertRows, replaceRows, updateVersions } from '../store/rows';
import { LONGEST_NAME } from '../store/entity/company.entity';
import { Refused } from '../problem/refused';
import { touchCompanies } from './touch-companies';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ChangeEntity, DecisionEntity, NoticeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { scoredColumns } from '../store/entity/scored.entity';
import { writeScores, writeSideScores } from './write-scores';
import { placeOf } from '../store/load-leads';
import { rowOf } from '../store/value-row';
import type { Case } from './decide-leads';

/**
 * Writes records, decisions, history, field values and effects, each kind once. Where nothing but numbers changed, only
 * those are written.
 *
 * @param turns when each record's score changes by itself; null: it is closed
 */
export async function writeDecisions(
  manager: EntityManager,
  cases: readonly Case[],
  decisions: readonly Decision[],
  turns: readonly (Date | null)[],
  charter: number,
): Promise<void> {
  const leads: LeadEntity[] = [];
  const changes: Partial<ChangeEntity>[] = [];
  const bodies: Partial<DecisionEntity>[] = [];
  const notices: Partial<NoticeEntity>[] = [];
  const values: FieldValueEntity[] = [];
  const rescored: LeadEntity[] = [];
  const scored: { id: number; score: Decision['score'] }[] = [];
  const blanked: { record: number; field: string }[] = [];

  cases.forEach((one, i) => {
    const decision = decisions[i] as Decision;
    const id = Number(one.record.id);
    // Still waiting for the same thing: nothing happened that is worth a line in the history.
    if (one.occasion === 'freed' && decision.place.kind === 'bay') return;
    const after = leadAfter(one, decision, turns[i] ?? null, charter);
    scored.push({ id, score: decision.score });
    if (isQuiet(one, decision, after)) {
      rescored.push(after);
      return;
    }
    leads.push(after);
    changes.push(...changesOf(one, after, decision, charter));
    bodies.push({
      record: id,
      charter,
      asOf: one.asOf,
      occasion: one.occasion,
      grade: after.grade,
      stage: after.stage,
      body: decision,
    });
    notices.push(...decision.effects.map((effect) => noticeOf(effect, id, one.asOf)));
    for (const [field, value] of one.values) {
      if (value.kind === 'blank') blanked.push({ record: id, field });
      else values.push(rowOf(id, field, value));
    }
  });

  await writeScores(manager, rescored);
  await writeSideScores(manager, scored);
  const [first] = cases;
  if (first !== undefined) await touchCompanies(manager, companiesOf(cases), first.asOf);
  await refuseTakenEmails(manager, cases, leads);
  await insertRows(
    manager,
    LeadEntity,
    leads.filter(({ version }) => version === 1),
  );
  await updateVersions(
    manager,
    LeadEntity,
    leads.filter(({ version }) => version > 1),
  );
  await replaceRows(manager, FieldValueEntity, values);
  if (blanked.length > 0) await manager.delete(FieldValueEntity, blanked);
  await insertRows(manager, ChangeEntity, changes);
  await insertRows(manager, DecisionEntity, bodies);
  await insertRows(manager, NoticeEntity, notices);
}

/** @throws Refused `email-taken` if a lead that is known already would get the e-mail of another one that is open */
async function refuseTakenEmails(
  manager: EntityManager,
  cases: readonly Case[],
  leads: readonly LeadEntity[],
): Promise<void> {
  const before = new Map(cases.map(({ stored }) => [stored?.id, stored?.openEmail]));
  const changed = leads.filter(({ id, version, openEmail }) => {
    return version > 1 && openEmail !== null && openEmail !== before.get(id);
  });
  if (changed.length === 0) return;
  const having = new Map(
    (
      await manager.find(LeadEntity, {
        select: { id: true, openEmail: true },
        where: { openEmail: In(changed.map(({ openEmail }) => openEmail)) },
      })
    ).map(({ id, openEmail }) => [openEmail, id]),
  );
  for (const { id, openEmail } of changed) {
    const other = having.get(openEmail);
    if (other !== undefined && other !== id)
      throw Refused.as('email-taken', { detail: `Lead ${other} is open and has ${openEmail ?? ''}.`, other });
    having.set(openEmail, id);
  }
}

function textOf(value: Value | undefined, most: number): string {
  return value === undefined ? '' : showValue(value).slice(0, most);
}

function placeColumns(place: Place): Pick<LeadEntity, 'place' | 'owner' | 'queue' | 'bay' | 'bayTeam'> {
  const nowhere = { place: place.kind, owner: null, queue: null, bay: null, bayTeam: null };
  switch (place.kind) {
    case 'owner':
      return { ...nowhere, owner: place.rep };
    case 'queue':
      return { ...nowhere, queue: place.queue };
    case 'bay':
      return { ...nowhere, bay: place.reason, bayTeam: place.reason.why === 'nobody-free' ? place.reason.team : null };
    case 'not-handed-over':
      return nowhere;
  }
}

/** The company's name, folded; null: none is named. */
function companyKeyOf(record: Case['record']): string | null {
  return fold(textOf(record.values.get('company'), LONGEST_NAME)).slice(0, LONGEST_NAME) || null;
}

/** The companies whose leads changed: those they are with, and those they were with before. */
function companiesOf(cases: readonly Case[]): Map<string, string> {
  const named = new Map<string, string>();
  for (const { record, stored, occasion } of cases) {
    const key = companyKeyOf(record);
    if (stored?.companyKey && stored.companyKey !== key) named.set(stored.companyKey, stored.company);
    if (key !== null && TOUCHING.includes(occasion)) named.set(key, textOf(record.values.get('company'), 200));
  }
  return named;
}

/** Occasions on which something happens with the lead itself. */
const TOUCHING: readonly Occasion[] = ['created', 'joined', 'edited', 'activity'];

/** The lead as it is stored after a decision. */
export function leadAfter(
  { record, stored, arrival, occasion, asOf }: Case,
  decision: Decision,
  changesAt: Date | null,
  charter: number,
): LeadEntity {
  const place = placeColumns(decision.place);
  const moved = stored === null || JSON.stringify(placeOf(stored)) !== JSON.stringify(decision.place);
  const closes = record.status === 'open' && decision.status !== 'open';
  const written = record.values.get('email');
  const email = written?.kind === 'text' ? fold(written.text).slice(0, 320) : null;
  const match = decision.routing?.match;
  return {
    id: Number(record.id),
    version: (stored?.version ?? 0) + 1,
    name: textOf(record.values.get('name'), 200),
    company: textOf(record.values.get('company'), 200),
    companyKey: companyKeyOf(record),
    email,
    openEmail: decision.status === 'open' ? email : null,
    status: decision.status,
    stage: decision.stage,
    ...place,
    since: moved ? asOf : stored.since,
    ...scoredColumns(decision),
    territory: 'territory' in decision.territory ? decision.territory.territory : null,
    pin: record.pin,
    route: match?.kind === 'matched' ? match.route : (stored?.route ?? null),
    looks: Object.fromEntries(decision.gates.looks),
    arrived: new Date(record.arrived),
    touchedAt: stored === null || TOUCHING.includes(occasion) ? asOf : stored.touchedAt,
    way: stored?.way ?? arrival?.way ?? 'hand',
    charter,
    decidedAt: asOf,
    changesAt,
    closedAt: closes ? asOf : (stored?.closedAt ?? null),
    closeReason: closes ? closingGate(decision) : (stored?.closeReason ?? null),
  };
}

/** Occasions on which mostly nothing but the score changes. */
const RESCORING: readonly Occasion[] = ['activity', 'time', 'enacted'];

/** Whether a decision leaves all as it was but the score, so that the score alone is written. */
function isQuiet({ stored, occasion, values }: Case, decision: Decision, after: LeadEntity): boolean {
  if (stored === null || !RESCORING.includes(occasion) || values.size > 0) return false;
  const { gates, routing, effects, loads } = decision;
  return (
    gates.moves.length === 0 &&
    routing === null &&
    effects.length + loads.length === 0 &&
    after.grade === stored.grade &&
    after.verdict === stored.verdict &&
    after.territory === stored.territory &&
    JSON.stringify(placeOf(after)) === JSON.stringify(placeOf(stored)) &&
    JSON.stringify(after.looks) === JSON.stringify(stored.looks)
  );
}

function closingGate(decision: Decision): string | null {
  const last = decision.gates.moves.at(-1);
  return last === undefined ? null : `Gate ${last.gate}`;
}

function changesOf(one: Case, after: LeadEntity, decision: Decision, charter: number): Partial<ChangeEntity>[] {
  const rule = `charter ${charter}`;
  const changes: Partial<ChangeEntity>[] = [];
  const note = (field: string, from: string | null, to: string | null, by: string): void => {
    if (from !== to) changes.push({ record: after.id, field, from, to, at: one.asOf, by });
  };
  if (one.stored !== null) {
    for (const [field, value] of one.values)
      note(
        field,
        showValue(one.valuesBefore.get(field) ?? { kind: 'blank' }) || null,
        showValue(value) || null,
        one.by,
      );
  }
  for (const move of decision.gates.moves) note('stage', move.from, move.to, `${rule}, gate ${move.gate}`);
  note('grade', one.stored?.grade ?? null, after.grade, rule);
  note('territory', one.stored?.territory ?? null, after.territory, rule);
  const broughtIn = one.record.place?.kind === 'owner' && decision.place.kind === 'owner';
  note(
    'place',
    one.stored ? placeCode(placeOf(one.stored)) : null,
    placeCode(decision.place),
    broughtIn ? one.by : rule,
  );
  note('status', one.stored?.status ?? null, after.status, rule);
  return changes;
}

function noticeOf(effect: Effect, record: number, at: Date): Partial<NoticeEntity> {
  switch (effect.kind) {
    case 'tell-owner':
      return { person: effect.rep, queue: null, kind: 'assigned', record, at };
    case 'tell-queue':
      return { person: null, queue: effect.queue, kind: 'in-queue', record, at };
    case 'tell-operations':
      return { person: null, queue: null, kind: effect.of, record, at };
  }
}
