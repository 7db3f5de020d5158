import {
  choicesOf,
  dayFrom,
  dayNumber,
  daysBefore,
  hoursBefore,
  fold,
  type Happening,
  happeningText,
  isByThem,
  NUMBER_DECIMALS,
  passesText,
  type ReadyBound,
  type ReadyTest,
  type Subject,
  type SubjectKind,
  type SubjectOf,
  teamsOf,
  WAYS,
  within,
  bandKeysOf,
  stagesOf,
} from '@relvik/core';
import { patternOf } from './like';
import { holderOf } from './list-kinds';
import { asEntered, hasRate, worthBetween } from './money-sql';
import { NO_RANK } from '../store/entity/scored.entity';
import { searchable } from '../store/value-row';
import type { SqlWriter } from './sql-writer';

/** A test as SQL over a record `r`. It has three answers, so "holds" and "fails" are written apart. */
export interface TestSql {
  readonly holds: string;
  readonly fails: string;
}

type Written<S extends Subject> = (subject: S, test: ReadyTest, writer: SqlWriter) => TestSql;

/** How tests of one kind of subject are written. */
const SUBJECT_SQL: { readonly [K in SubjectKind]: Written<SubjectOf<K>> } = {
  field: ({ field }, test, writer) =>
    test.kind === 'money-in'
      ? stored(writer, field, `v.kind = 'money' AND ${worthBetween(writer, test)}`, `NOT (${hasRate(writer)})`)
      : stored(writer, field, ownValue(test, writer)),
  currency: ({ field }, test, writer) =>
    stored(
      writer,
      field,
      test.kind === 'text-in'
        ? `v.kind = 'money' AND v.currency IN (${writer.param([...test.folded].map((code) => code.toUpperCase()))})`
        : null,
    ),
  amount: ({ field }, test, writer) =>
    stored(
      writer,
      field,
      test.kind === 'number-in' ? `v.kind = 'money' AND ${writer.range(asEntered(writer), test.from, test.to)}` : null,
    ),
  'days-since'({ day }, test, writer) {
    const span = test.kind === 'number-in' ? daysAgo(test, writer.today) : null;
    if (day.kind !== 'field') return onDays(instantOf(day, writer), span, writer);
    return stored(writer, day.field, span && storedDay(span, writer));
  },
  arrived: (day, test, writer) => onDays(instantOf(day, writer), test.kind === 'day-in' ? daySpan(test) : null, writer),
  'last-activity': (day, test, writer) =>
    onDays(instantOf(day, writer), test.kind === 'day-in' ? daySpan(test) : null, writer),
  happened(subject, test, writer) {
    if (test.kind !== 'number-in') return { holds: 'FALSE', fails: 'TRUE' };
    const known = writer.setting.happened.get(happeningText(subject));
    return opposites(known === undefined ? counted(subject, test, writer) : countedBefore(known, test, writer));
  },
  'way-in'(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'FALSE', fails: 'TRUE' };
    return opposites(writer.oneOf('r.way', keysWhere(WAYS, test)));
  },
  'days-in-stage': (_, test, writer) =>
    timeInStage(test, (days) => daysBefore(writer.setting.now, days, writer.timeZone), writer),
  'hours-in-stage': (_, test, writer) => timeInStage(test, (hours) => hoursBefore(writer.setting.now, hours), writer),
  owner(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'r.owner IS NULL', fails: 'r.owner IS NOT NULL' };
    const keys = [...writer.setting.world.reps.keys()];
    return opposites(`(r.owner IS NOT NULL AND ${writer.oneOf('r.owner', keysWhere(keys, test))})`);
  },
  team(_, test, writer) {
    const { reps, teams } = writer.setting.world;
    const passing = [...reps.keys()].filter((rep) => {
      const { folded } = choicesOf(teamsOf(rep, teams));
      return test.kind === 'blank' ? folded === '' : passesText(test, folded);
    });
    const owned = `(r.owner IS NOT NULL AND ${writer.oneOf('r.owner', passing)})`;
    return opposites(test.kind === 'blank' ? `(r.owner IS NULL OR ${owned})` : owned);
  },
  score({ axis }, test, writer) {
    const column = axis === 'rank' ? 'r.rankOrder' : `r.${axis}`;
    const judged = axis === 'rank' ? 'r.fit IS NOT NULL AND r.engagement IS NOT NULL' : `r.${axis} IS NOT NULL`;
    return scored(scoreIn(column, test, writer), judged, test);
  },
  'set-score'({ set, axis }, test, writer) {
    const key = writer.param(set);
    const [own, beside] = axis === 'rank' ? ['r.rankOrder', 's.rank_order'] : [`r.${axis}`, `s.${axis}`];
    const side = (what: string): string =>
      `(SELECT ${what} FROM side_score s WHERE s.record = r.id AND s.score_set = ${key})`;
    const given = `(COALESCE(r.scoreSet = ${key}, FALSE) OR EXISTS ${side('1')})`;
    if (test.kind !== 'number-in') return { holds: `NOT ${given}`, fails: given };
    const score = `IF(r.scoreSet = ${key}, ${own}, ${side(beside)})`;
    // A rank that can't be judged stands below every one.
    const judged = axis === 'rank' ? `${score} > ${NO_RANK}` : `${score} IS NOT NULL`;
    const is = scoreIn(score, test, writer);
    return {
      holds: `COALESCE(${given} AND ${judged} AND ${is}, FALSE)`,
      fails: `(NOT ${given} OR COALESCE(${judged} AND NOT ${is}, FALSE))`,
    };
  },
  band({ axis }, test, writer) {
    const column = axis === 'fit' ? 'r.fitBand' : 'r.engagementBand';
    const keys = bandKeysOf(writer.setting.charter.charter, writer.setting.list.kind, axis);
    return scored(writer.oneOf(column, keysWhere(keys, test)), `${column} IS NOT NULL`, test);
  },
  verdict(_, test, writer) {
    const keys = writer.setting.charter.charter.verdicts.map(({ key }) => key);
    return scored(writer.oneOf('r.verdict', keysWhere(keys, test)), 'r.verdict IS NOT NULL', test);
  },
  stage(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'FALSE', fails: 'TRUE' };
    const keys = stagesOf(writer.setting.charter.charter, writer.setting.list.kind).map(({ key }) => key);
    return opposites(writer.oneOf('r.stage', keysWhere(keys, test)));
  },
  territory(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'r.territory IS NULL', fails: 'r.territory IS NOT NULL' };
    const keys = writer.setting.charter.charter.territories.list.map(({ key }) => key);
    return opposites(`(r.territory IS NOT NULL AND ${writer.oneOf('r.territory', keysWhere(keys, test))})`);
  },
};

/** Writes a test; the same as `judgeTest` says, with scores, stages and territories as they are stored. */
export function testSql(test: ReadyTest, writer: SqlWriter): TestSql {
  return (SUBJECT_SQL[test.subject.kind] as Written<Subject>)(test.subject, test, writer);
}

/**
 * Turns bounds in whole days or hours into bounds on the instant of entry.
 *
 * @param before the latest instant from which so many have passed
 */
function timeInStage(test: ReadyTest, before: (count: number) => number, writer: SqlWriter): TestSql {
  if (test.kind !== 'number-in') return { holds: 'FALSE', fails: 'TRUE' };
  const [first, beyond] = [firstWhole(test.from), beyondWhole(test.to)];
  const ends = [
    ...(first > 0 ? [`r.stageSince <= ${writer.param(new Date(before(first)))}`] : []),
    ...(Number.isFinite(beyond)
      ? [beyond > 0 ? `r.stageSince > ${writer.param(new Date(before(beyond)))}` : 'FALSE']
      : []),
  ];
  return opposites(ends.length === 0 ? '(TRUE)' : `(${ends.join(' AND ')})`);
}

function opposites(holds: string): TestSql {
  return { holds, fails: `NOT ${holds}` };
}

/**
 * A test of a stored value `v`.
 *
 * @param matches what is true of a value that passes; null: it is asked whether it is blank
 * @param unjudged what is true of a value that can be read, and not judged
 */
function stored(writer: SqlWriter, field: string, matches: string | null, unjudged = 'FALSE'): TestSql {
  const value = (is: string): string =>
    `EXISTS (SELECT 1 FROM field_value v WHERE v.record = ${holderOf(field, writer.setting.list)} AND v.field = ${writer.param(field)} AND ${is})`;
  if (matches === null) return { holds: `NOT ${value('TRUE')}`, fails: value('TRUE') };
  return {
    holds: value(matches),
    fails: `NOT ${value(`((${matches}) OR v.kind = 'unreadable' OR ${unjudged})`)}`,
  };
}

function ownValue(test: ReadyTest, writer: SqlWriter): string | null {
  switch (test.kind) {
    case 'text-in':
      return `v.folded IN (${writer.param([...test.folded].map(searchable))})`;
    case 'text-part':
      return `(${test.folded.map((part) => `v.folded LIKE ${writer.param(patternOf(test.part, part))}`).join(' OR ') || 'FALSE'})`;
    case 'any-of':
      return `(${choicesIn('v.choices', test.folded, writer).join(' OR ')})`;
    case 'all-of':
      return `(${choicesIn('v.choices', test.folded, writer).join(' AND ')})`;
    case 'yes-no':
      return `v.kind = 'yes-no' AND v.number = ${writer.param(test.yes ? 1 : 0)}`;
    case 'number-in':
      return `v.kind = 'number' AND ${writer.range('v.number', test.from, test.to)}`;
    case 'day-in':
      return storedDay(daySpan(test), writer);
    case 'money-in':
    case 'blank':
      return null;
  }
}

/** Whole days, in days since 1970-01-01; `beyond` is left out. */
interface DaySpan {
  readonly first: number;
  readonly beyond: number;
}

function daySpan({ from, to }: ReadyTest & { kind: 'day-in' }): DaySpan {
  const day = (end: ReadyBound<string> | null) => end && { ...end, at: dayNumber(end.at) };
  return { first: firstWhole(day(from)), beyond: beyondWhole(day(to)) };
}

/** The more days ago, the earlier the day. */
function daysAgo({ from, to }: ReadyTest & { kind: 'number-in' }, today: number): DaySpan {
  const day = (end: ReadyBound<number> | null) => end && { ...end, at: today - end.at };
  return { first: firstWhole(day(to)), beyond: beyondWhole(day(from)) };
}

function firstWhole(from: ReadyBound<number> | null): number {
  if (from === null) return -Infinity;
  return from.included ? from.at : from.at + 1;
}

function beyondWhole(to: ReadyBound<number> | null): number {
  if (to === null) return Infinity;
  return to.included ? to.at + 1 : to.at;
}

/** That a stored value `v` is one of some days. */
function storedDay({ first, beyond }: DaySpan, writer: SqlWriter): string {
  const ends = [
    ...(Number.isFinite(first) ? [`v.day >= ${writer.param(dayFrom(first))}`] : []),
    ...(Number.isFinite(beyond) ? [`v.day < ${writer.param(dayFrom(beyond))}`] : []),
  ];
  return ["v.kind = 'date' AND v.number IS NULL AND v.currency IS NULL", ...ends].join(' AND ');
}

function instantOf({ kind }: { readonly kind: 'arrived' | 'last-activity' }, writer: SqlWriter): string {
  if (kind === 'arrived') return 'r.arrived';
  const { world, now } = writer.setting;
  const ours = [...world.kinds.keys()].filter((key) => !isByThem(world.kinds, key));
  const theirs = ours.length === 0 ? '' : ` AND a.kind NOT IN (${writer.param(ours)})`;
  const newest = (from: string, of: string): string =>
    `(SELECT MAX(a.at) FROM ${from} WHERE ${of} AND a.at <= ${writer.param(new Date(now))}${theirs})`;
  const each = writer.setting.list.activities.map(({ from, of }) => newest(from, of));
  const [own = 'NULL'] = each;
  // Of several the latest; none of them may make it null.
  return each.length === 1 ? own : `NULLIF(GREATEST(${each.map((one) => `COALESCE(${one}, 0)`).join(', ')}), 0)`;
}

/** @param span null: it is asked whether there is no such instant */
function onDays(instant: string, span: DaySpan | null, writer: SqlWriter): TestSql {
  if (span === null) return { holds: `${instant} IS NULL`, fails: `${instant} IS NOT NULL` };
  const holds = `(${instant} IS NOT NULL AND ${writer.onDays(instant, span.first, span.beyond)})`;
  return { holds, fails: `(${holds} IS NOT TRUE)` };
}

function counted(
  { activity, within: days }: Happening,
  test: ReadyTest & { kind: 'number-in' },
  writer: SqlWriter,
): string {
  const { now } = writer.setting;
  const after = days === null ? '' : ` AND a.at > ${writer.param(new Date(now - days * DAY))}`;
  const counts = writer.setting.list.activities.map(
    ({ from, of }) =>
      `(SELECT COUNT(*) FROM ${from} WHERE ${of} AND a.kind = ${writer.param(activity)} AND a.at <= ${writer.param(new Date(now))}${after})`,
  );
  return writer.range(`(${counts.join(' + ')})`, test.from, test.to);
}

/** The records of which it was counted before; of all others it is 0. */
function countedBefore(
  known: ReadonlyMap<number, number>,
  test: ReadyTest & { kind: 'number-in' },
  writer: SqlWriter,
): string {
  const holds = (count: number): boolean => within(count, test.from, test.to);
  const others = holds(0);
  const told = [...known].flatMap(([id, count]) => (holds(count) === others ? [] : [id]));
  const listed = `r.id IN (SELECT told.id FROM JSON_TABLE(${writer.param(JSON.stringify(told))}, '$[*]' COLUMNS (id INT PATH '$')) told)`;
  return others ? `(NOT ${listed})` : `(${listed})`;
}

const DAY = 86_400_000;

/** A test on a score: unjudged records answer neither way; records that no set admits are blank. */
function scored(is: string, judged: string, test: ReadyTest): TestSql {
  const none = "r.admitted = 'no'";
  if (test.kind === 'blank') return opposites(none);
  return { holds: `(${judged} AND ${is})`, fails: `(${none} OR (${judged} AND NOT ${is}))` };
}

function scoreIn(column: string, test: ReadyTest, writer: SqlWriter): string {
  if (test.kind !== 'number-in') return 'FALSE';
  const unit = 10 ** NUMBER_DECIMALS;
  const scaled = (end: ReadyBound<number> | null) => end && { at: end.at / unit, included: end.included };
  return writer.range(column, scaled(test.from), scaled(test.to));
}

function keysWhere(keys: readonly string[], test: ReadyTest): string[] {
  return keys.filter((key) => passesText(test, fold(key)));
}

/** That a folded combination has each of these options. */
function choicesIn(column: string, options: Iterable<string>, writer: SqlWriter): string[] {
  return [...options].map((option) => `${column} LIKE ${writer.param(patternOf('contains', `;${option};`))}`);
}
