import {
  type Axis,
  dayFrom,
  fold,
  NUMBER_DECIMALS,
  passesText,
  type ReadyBound,
  type ReadyTest,
  type Subject,
  type SubjectKind,
  type SubjectOf,
  type TextParts,
} from '@relvik/core';
import { hasRate, worthBetween } from './money-sql';
import type { SqlWriter } from './sql-writer';

/** A test as SQL over `lead`. It has three answers, so "holds" and "fails" are written apart. */
export interface TestSql {
  readonly holds: string;
  readonly fails: string;
}

/** The stored texts are cut off here. */
const LONGEST_TEXT = 190;

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
  'days-since': ({ day }, test, writer) => stored(writer, day.field, ago(test, writer)),
  score({ axis }, test, writer) {
    const column = axis === 'rank' ? 'lead.rankOrder' : `lead.${axis}`;
    const judged =
      axis === 'rank' ? 'lead.fit IS NOT NULL AND lead.engagement IS NOT NULL' : `lead.${axis} IS NOT NULL`;
    return scored(score(column, test, writer), judged, test);
  },
  band({ axis }, test, writer) {
    const column = axis === 'fit' ? 'lead.fitBand' : 'lead.engagementBand';
    return scored(inBands(axis, column, test, writer), `${column} IS NOT NULL`, test);
  },
  verdict(_, test, writer) {
    const keys = writer.setting.charter.charter.verdicts.map(({ key }) => key);
    return scored(writer.oneOf('lead.verdict', keysWhere(keys, test)), 'lead.verdict IS NOT NULL', test);
  },
  stage(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'FALSE', fails: 'TRUE' };
    const keys = writer.setting.charter.charter.stages.map(({ key }) => key);
    return opposites(writer.oneOf('lead.stage', keysWhere(keys, test)));
  },
  territory(_, test, writer) {
    if (test.kind === 'blank') return { holds: 'lead.territory IS NULL', fails: 'lead.territory IS NOT NULL' };
    const keys = writer.setting.charter.charter.territories.list.map(({ key }) => key);
    return opposites(`(lead.territory IS NOT NULL AND ${writer.oneOf('lead.territory', keysWhere(keys, test))})`);
  },
};

/** Writes a test; the same as `judgeTest` says, with scores, stages and territories as they are stored. */
export function testSql(test: ReadyTest, writer: SqlWriter): TestSql {
  return (SUBJECT_SQL[test.subject.kind] as Written<Subject>)(test.subject, test, writer);
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
    `EXISTS (SELECT 1 FROM field_value v WHERE v.record = lead.id AND v.field = ${writer.param(field)} AND ${is})`;
  if (matches === null) return { holds: `NOT ${value('TRUE')}`, fails: value('TRUE') };
  return {
    holds: value(matches),
    fails: `NOT ${value(`((${matches}) OR v.kind = 'unreadable' OR ${unjudged})`)}`,
  };
}

function ownValue(test: ReadyTest, writer: SqlWriter): string | null {
  switch (test.kind) {
    case 'text-in':
      return `v.folded IN (${writer.param([...test.folded].map((text) => text.slice(0, LONGEST_TEXT)))})`;
    case 'text-part':
      return `(${test.folded.map((part) => `v.folded LIKE ${writer.param(patternOf(test.part, part))}`).join(' OR ') || 'FALSE'})`;
    case 'yes-no':
      return `v.kind = 'yes-no' AND v.number = ${writer.param(test.yes ? 1 : 0)}`;
    case 'number-in':
      return `v.kind = 'number' AND ${writer.range('v.number', test.from, test.to)}`;
    case 'day-in':
      return `${IS_DAY} AND ${writer.range('v.day', test.from, test.to)}`;
    case 'money-in':
    case 'blank':
      return null;
  }
}

const IS_DAY = "v.kind = 'date' AND v.number IS NULL AND v.currency IS NULL";

function ago(test: ReadyTest, writer: SqlWriter): string | null {
  if (test.kind !== 'number-in') return null;
  const { today } = writer.setting;
  const day = (end: ReadyBound<number> | null) => end && { at: dayFrom(today - end.at), included: end.included };
  // The more days ago, the earlier the day.
  return `${IS_DAY} AND ${writer.range('v.day', day(test.to), day(test.from))}`;
}

/** What is scored answers a test; what can't be judged does not; for whom no set admits it is blank. */
function scored(is: string, judged: string, test: ReadyTest): TestSql {
  const none = "lead.admitted = 'no'";
  if (test.kind === 'blank') return opposites(none);
  return { holds: `(${judged} AND ${is})`, fails: `(${none} OR (${judged} AND NOT ${is}))` };
}

function score(column: string, test: ReadyTest, writer: SqlWriter): string {
  if (test.kind !== 'number-in') return 'FALSE';
  const unit = 10 ** NUMBER_DECIMALS;
  const scaled = (end: ReadyBound<number> | null) => end && { at: end.at / unit, included: end.included };
  return writer.range(column, scaled(test.from), scaled(test.to));
}

/** That its band, by the set that graded it, is one of those whose name passes. */
function inBands(axis: Axis, column: string, test: ReadyTest, writer: SqlWriter): string {
  const sets = writer.setting.charter.scoreSets.map(({ key, grid }) => {
    const bands = writer.oneOf(column, placesWhere(grid[axis].names, test));
    return `(lead.scoreSet = ${writer.param(key)} AND ${bands})`;
  });
  return `(${sets.join(' OR ')})`;
}

function placesWhere(names: readonly string[], test: ReadyTest): number[] {
  return names.flatMap((name, place) => (passesText(test, fold(name)) ? [place] : []));
}

function keysWhere(keys: readonly string[], test: ReadyTest): string[] {
  return keys.filter((key) => passesText(test, fold(key)));
}

function patternOf(part: TextParts['part'], text: string): string {
  const plain = text.replace(/[\\%_]/g, '\\$&');
  switch (part) {
    case 'contains':
      return `%${plain}%`;
    case 'starts-with':
      return `${plain}%`;
    case 'ends-with':
      return `%${plain}`;
  }
}
