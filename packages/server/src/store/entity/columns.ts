import { deflateSync, inflateSync } from 'node:zlib';
import type { ColumnOptions, ValueTransformer } from 'typeorm';

const asJson: ValueTransformer = {
  to: (value: unknown) => (value === null || value === undefined ? null : JSON.stringify(value)),
  from: (text: string | null) => (text === null ? null : (JSON.parse(text) as unknown)),
};

/** A document kept as JSON text. MariaDB has no JSON type of its own. */
export const json = { type: 'longtext', transformer: asJson } satisfies ColumnOptions;

/** In the form of MariaDB's COMPRESS: the length in four bytes, the lowest first, then zlib. */
const asCompressedJson: ValueTransformer = {
  to(value: unknown) {
    const text = Buffer.from(JSON.stringify(value));
    const length = Buffer.alloc(4);
    length.writeUInt32LE(text.length);
    return Buffer.concat([length, deflateSync(text, { level: 1 })]);
  },
  from: (bytes: Buffer) => JSON.parse(inflateSync(bytes.subarray(4)).toString('utf8')) as unknown,
};

/** A large document that is seldom read: JSON, compressed to about a fifth. */
export const compressedJson = { type: 'longblob', transformer: asCompressedJson } satisfies ColumnOptions;

/** A key of the charter or of people: small letters, digits, `_` and `-`. Compared byte by byte. */
export const key = { type: 'varchar', length: 48, charset: 'ascii', collation: 'ascii_bin' } satisfies ColumnOptions;

/** Text compared after `fold`: byte by byte, trailing blanks count. */
export const folded = { type: 'varchar', charset: 'utf8mb4', collation: 'utf8mb4_nopad_bin' } satisfies ColumnOptions;

/** An instant, to the millisecond, UTC. */
export const instant = { type: 'datetime', precision: 3 } satisfies ColumnOptions;

export const whole = { type: 'int', unsigned: true } satisfies ColumnOptions;
