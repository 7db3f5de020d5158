import type { ReadyCondition } from '@relvik/core';
import { type SqlSetting, SqlWriter } from './sql-writer';
import { testSql } from './subject-sql';

/** A part of a WHERE over a record `r`, with named parameters. */
export interface SqlPart {
  readonly sql: string;
  readonly parameters: Readonly<Record<string, unknown>>;
}

/**
 * The records for which a condition holds, as SQL over `r` and `field_value`; the same as `judge` says, with scores, stages
 * and territories as they are stored.
 *
 * A condition has three answers, so "holds" and "does not hold" are asked apart: what can't be judged is neither. Of a text
 * the first 190 characters are looked at.
 */
export function conditionSql(condition: ReadyCondition, setting: SqlSetting): SqlPart {
  const writer = new SqlWriter(setting);
  return { sql: holds(condition, writer), parameters: writer.parameters };
}

function holds(condition: ReadyCondition, writer: SqlWriter): string {
  switch (condition.kind) {
    case 'all':
      return joined(condition.of, ' AND ', 'TRUE', (part) => holds(part, writer));
    case 'any':
      return joined(condition.of, ' OR ', 'FALSE', (part) => holds(part, writer));
    case 'not':
      return fails(condition.of, writer);
    default:
      return testSql(condition, writer).holds;
  }
}

function fails(condition: ReadyCondition, writer: SqlWriter): string {
  switch (condition.kind) {
    case 'all':
      return joined(condition.of, ' OR ', 'FALSE', (part) => fails(part, writer));
    case 'any':
      return joined(condition.of, ' AND ', 'TRUE', (part) => fails(part, writer));
    case 'not':
      return holds(condition.of, writer);
    default:
      return testSql(condition, writer).fails;
  }
}

function joined(
  parts: readonly ReadyCondition[],
  by: string,
  none: string,
  write: (part: ReadyCondition) => string,
): string {
  return parts.length === 0 ? none : `(${parts.map(write).join(by)})`;
}
