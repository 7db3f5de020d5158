import type { ColumnOptions, ValueTransformer } from 'typeorm';

const asJson: ValueTransformer = {
  to: (value: unknown) => (value === null || value === undefined ? null : JSON.stringify(value)),
  from: (text: string | null) => (text === null ? null : (JSON.parse(text) as unknown)),
};

/** A document kept as JSON text. MariaDB has no JSON type of its own. */
export const json = { type: 'longtext', transformer: asJson } satisfies ColumnOptions;

/** A key of the charter or of people: small letters, digits, `_` and `-`. Compared byte by byte. */
export const key = { type: 'varchar', length: 48, charset: 'ascii', collation: 'ascii_bin' } satisfies ColumnOptions;

/** Text compared after `fold`: byte by byte, trailing blanks count. */
export const folded = { type: 'varchar', charset: 'utf8mb4', collation: 'utf8mb4_nopad_bin' } satisfies ColumnOptions;

/** An instant, to the millisecond, UTC. */
export const instant = { type: 'datetime', precision: 3 } satisfies ColumnOptions;

export const whole = { type: 'int', unsigned: true } satisfies ColumnOptions;
