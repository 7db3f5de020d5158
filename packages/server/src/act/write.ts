import { gradeKey } from '../store/entity/scored.entity';
import {
  condenseDecision,
  type Decision,
  fold,
  type GateChange,
  type Origin,
  takesAnyOption,
  type Recipient,
} from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { TagEntity } from '../store/entity/catalogue.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ChangeEntity, DECISION_FORMAT, DecisionEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { placeOf, tiesOf } from '../store/load-leads';
import { carryOut, insertRows, insertsOf, replaceRows, updateVersions } from '../store/rows';
import { rowOf } from '../store/value-row';
import { type Act, tasksOf, type Ties } from './act';
import { type Managers, outboxRows, routedRows, verdictRows } from './effects';
import { changesOf } from './history';
import { keepOneOpen } from './one-open-lead';
import { samePlace, TOUCHING } from './lead-after';
import { type ChangedRecord, followRecords, taskRows } from './task/follow-records';
import { type Touched, touchParties } from './touch-parties';
import { sideInserts, writeScores, writeSideScores } from './write-scores';

/** The result of an act. */
export interface Outcome {
  readonly act: Act;
  /** The number of the charter that decided it, or that was in force. */
  readonly charter: number;
  readonly after: LeadEntity;
  /** Null where no rule was asked: a hand moved the record, or it is closed. */
  readonly decision: Decision | null;
  /** The recipients of a notice of its new verdict. */
  readonly notify: readonly Recipient[];
}

/**
 * Writes records, decisions, history and effects, each kind once. Where nothing but numbers changed, only those.
 *
 * @param touched contacts and companies that need not be made due any more
 */
export async function write(manager: EntityManager, outcomes: readonly Outcome[], touched: Touched): Promise<void> {
  const happened = outcomes.filter((outcome) => !isStillWaiting(outcome));
  const quiet = happened.filter(isQuiet);
  const loud = happened.filter((outcome) => !isQuiet(outcome));

  await writeScores(
    manager,
    quiet.map(({ after }) => after),
  );
  const scored = (isNew: boolean): { id: number; score: Decision['score'] }[] =>
    happened.flatMap(({ act, after, decision }) =>
      decision === null || (act.stored === null) !== isNew ? [] : [{ id: after.id, score: decision.score }],
    );
  await writeSideScores(manager, scored(false));
  const [first] = outcomes;
  if (first !== undefined) await touchParties(manager, touchedTies(outcomes), first.act.asOf, touched);
  await keepOneOpen(manager, loud);
  await updateVersions(
    manager,
    LeadEntity,
    loud.flatMap(({ act, after }) => (act.stored === null ? [] : [after])),
  );
  if (first !== undefined) await followRecords(manager, loud.flatMap(changedRecord), first.act.asOf);
  const managers = await managersOf(manager, loud);
  await carryOut(manager, [() => sideInserts(manager, scored(true)), ...insertsOfOutcome(manager, loud, managers)]);
}

/** A known lead that got another owner, or was closed: its tasks follow. */
function changedRecord({ act: { stored, change }, after }: Outcome): ChangedRecord[] {
  if (stored === null) return [];
  const keeps = change.kind === 'move' && change.closing?.keepTasks === true;
  const endsTasks = stored.status === 'open' && after.status !== 'open' && !keeps;
  return stored.owner === after.owner && !endsTasks
    ? []
    : [{ id: after.id, owner: { before: stored.owner, after: after.owner }, endsTasks }];
}

/** By owner the managers of their teams; read only if one of them gets a notice. */
async function managersOf(manager: EntityManager, outcomes: readonly Outcome[]): Promise<Managers> {
  const owners = outcomes.flatMap(({ after, notify, decision }) =>
    notify.includes('manager') || decision?.tell?.includes('manager') === true ? (after.owner ?? []) : [],
  );
  const managers = new Map<string, string[]>();
  if (owners.length === 0) return managers;
  const rows = await manager.query<{ owner: string; person: string }[]>(
    `SELECT DISTINCT own.person AS owner, led.person FROM team_member own
     JOIN team_member led ON led.team = own.team AND led.leads = 1 WHERE own.person IN (?) ORDER BY led.person`,
    [[...new Set(owners)]],
  );
  for (const { owner, person } of rows) managers.set(owner, [...(managers.get(owner) ?? []), person]);
  return managers;
}

function insertsOfOutcome(
  manager: EntityManager,
  loud: readonly Outcome[],
  managers: Managers,
): (() => readonly string[])[] {
  return [
    () =>
      insertsOf(
        manager,
        LeadEntity,
        loud.flatMap(({ act, after }) => (act.stored === null ? [after] : [])),
      ),
    () =>
      insertsOf(
        manager,
        DecisionEntity,
        loud.flatMap(({ act, after, decision, charter }) =>
          decision === null ? [] : [decisionRow(act, after, decision, charter)],
        ),
      ),
    () =>
      insertsOf(
        manager,
        ChangeEntity,
        loud.flatMap(({ act, after, decision, charter }) => changesOf(act, after, decision, charter)),
      ),
    () =>
      insertsOf(
        manager,
        TaskEntity,
        loud.flatMap(({ act, after, decision, charter }) =>
          taskRows(tasksOf(act, decision), after.id, charter, act.asOf),
        ),
      ),
    () =>
      insertsOf(
        manager,
        OutboxEntity,
        loud.flatMap(({ act, after, decision, notify }) => {
          const effects = act.change.kind === 'move' ? act.change.effects : (decision?.effects ?? []);
          return [
            ...outboxRows(effects, after.id, act.asOf),
            ...verdictRows(notify, effects, after, managers, act.asOf),
            ...routedRows(decision?.tell ?? [], after, managers, act.asOf),
          ];
        }),
      ),
  ];
}

function decisionRow(act: Act, after: LeadEntity, decision: Decision, charter: number): Partial<DecisionEntity> {
  return {
    record: after.id,
    charter,
    asOf: act.asOf,
    occasion: decision.occasion,
    grade: gradeKey(after),
    stage: after.stage,
    format: DECISION_FORMAT,
    body: condenseDecision(decision),
  };
}

/** Still waiting for the same thing: nothing happened that is worth a line in the history. */
function isStillWaiting(outcome: Outcome): boolean {
  const { decision } = outcome;
  return decision?.occasion === 'freed' && decision.place.kind === 'bay' && standsStill(outcome, decision);
}

/** Whether a decision leaves a known lead in its stage and place, with the looks and values that it had. */
function standsStill({ act: { stored }, after }: Outcome, { gates }: Decision): boolean {
  return (
    stored !== null &&
    gates.moves.length + gates.changes.length === 0 &&
    samePlace(placeOf(after), placeOf(stored)) &&
    JSON.stringify(after.looks) === JSON.stringify(stored.looks)
  );
}

/** Occasions on which mostly nothing but the score changes. */
const RESCORING: readonly string[] = ['activity', 'time', 'enacted'];

/** Whether a decision leaves all as it was but the score, so that the score alone is written. */
function isQuiet(outcome: Outcome): boolean {
  const {
    act: { stored, values },
    after,
    decision,
  } = outcome;
  if (stored === null || decision === null || !RESCORING.includes(decision.occasion) || values.size > 0) return false;
  const { routing, effects, loads } = decision;
  return (
    standsStill(outcome, decision) &&
    routing === null &&
    effects.length + loads.length === 0 &&
    gradeKey(after) === gradeKey(stored) &&
    after.verdict === stored.verdict &&
    after.territory === stored.territory
  );
}

/** Writes the values that acts brought or changed. They depend on nothing that is decided, so turns need not be locked for it. */
export async function writeValues(manager: EntityManager, acts: readonly Act[]): Promise<void> {
  const rows: FieldValueEntity[] = [];
  const blanked: { record: number; field: string }[] = [];
  const fresh: FieldValueEntity[] = [];
  for (const act of acts) {
    const { record, stored, values, asOf } = act;
    const id = Number(record.id);
    for (const [field, value] of values) {
      if (value.kind === 'blank') blanked.push({ record: id, field });
      else (stored === null ? fresh : rows).push(rowOf(id, field, value, originOf(act), stored === null ? null : asOf));
    }
  }
  await rememberTags(manager, acts);
  await insertRows(manager, FieldValueEntity, fresh);
  await replaceRows(manager, FieldValueEntity, rows);
  if (blanked.length > 0) await manager.delete(FieldValueEntity, blanked);
}

/** A lead or deal with what gates changed on it. */
interface GatedRecord {
  readonly act: Pick<Act, 'record' | 'asOf'> & { readonly stored: unknown };
  readonly decision: ({ readonly gates: Pick<Decision['gates'], 'changes'> } & Pick<Decision, 'tagged'>) | null;
}

/** Writes the values that gates, and routes, have changed. */
export async function writeGateChanges(manager: EntityManager, outcomes: readonly GatedRecord[]): Promise<void> {
  const changed = outcomes.flatMap(({ act, decision }) =>
    changesBy(decision).map((change) => ({ ...change, record: Number(act.record.id), act })),
  );
  if (changed.length === 0) return;
  await rememberTags(
    manager,
    changed.map(({ field, value }) => ({ values: new Map([[field, value]]) })),
  );
  const filled = changed.flatMap(({ record, field, value, act: { stored, asOf } }) =>
    value.kind === 'blank' ? [] : [rowOf(record, field, value, 'trusted', stored === null ? null : asOf)],
  );
  await replaceRows(manager, FieldValueEntity, filled);
  const blanked = changed.flatMap(({ record, field, value }) => (value.kind === 'blank' ? [{ record, field }] : []));
  if (blanked.length > 0) await manager.delete(FieldValueEntity, blanked);
}

/** The values that gates and the route that placed it leave on a record: of one field the last. */
function changesBy(decision: GatedRecord['decision']): readonly Pick<GateChange, 'field' | 'value'>[] {
  const { gates, tagged } = decision ?? {};
  const changes = (gates?.changes ?? []).filter(({ field }) => field !== tagged?.field);
  return tagged === undefined ? changes : [...changes, tagged];
}

/** New words become options of the field of tags, in the spelling in which they came first. */
export async function rememberTags(manager: EntityManager, acts: readonly Pick<Act, 'values'>[]): Promise<void> {
  const words = new Map<string, string>();
  for (const { values } of acts)
    for (const [key, value] of values)
      if (value.kind === 'choices' && takesAnyOption({ key }))
        for (const word of value.texts) words.set(fold(word), words.get(fold(word)) ?? word);
  if (words.size === 0) return;
  const known = await manager.findBy(TagEntity, { folded: In([...words.keys()]) });
  for (const { folded } of known) words.delete(folded);
  if (words.size === 0) return;
  // In one order, so that servers that learn the same words do not wait for each other in a circle.
  const rows = [...words].sort(([a], [b]) => (a < b ? -1 : 1));
  await manager.query('INSERT IGNORE INTO tag (folded, word) VALUES ?', [rows]);
}

/** The contacts and companies whose leads changed: those they are tied to, and those they were tied to before. */
function touchedTies(outcomes: readonly Outcome[]): Ties[] {
  return outcomes.flatMap(({ act, after }) => {
    if (act.change.kind === 'move') return [];
    const now = tiesOf(after);
    const before = act.stored === null ? null : tiesOf(act.stored);
    const moved = before !== null && (before.contact !== now.contact || before.company !== now.company);
    return [...(moved ? [before] : []), ...(moved || TOUCHING.includes(act.change.occasion) ? [now] : [])];
  });
}

/** How the values of an act came to stand on their record. */
function originOf({ cause, trusted }: Act): Origin {
  return cause.kind === 'hand' ? 'hand' : trusted ? 'trusted' : 'untrusted';
}
