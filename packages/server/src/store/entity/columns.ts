import { deflateSync, inflateSync } from 'node:zlib';
import type { ColumnOptions, ValueTransformer } from 'typeorm';

const asJson: ValueTransformer = {
  to: (value: unknown) => (value === null || value === undefined ? null : JSON.stringify(value)),
  from: (text: string | null) => (text === null ? null : (JSON.parse(text) as unknown)),
};

/** A document kept as JSON text. MariaDB has no JSON type of its own. */
export const json = { type: 'longtext', transformer: asJson } satisfies ColumnOptions;

/** Shorter texts are kept as they are: compressing them costs more than it saves. */
const WORTH_COMPRESSING = 4096;
/** How a document begins: as the length of a compressed one it would be beyond a gigabyte. */
const BEGINS = '{"';

/** As it is, or in the form of MariaDB's COMPRESS: the length in four bytes, the lowest first, then zlib. */
const asCompressedJson: ValueTransformer = {
  to(value: unknown) {
    // As bytes even where it is plain: its many quotes would be escaped, and read back one by one.
    const bytes = Buffer.from(JSON.stringify(value));
    if (bytes.length < WORTH_COMPRESSING) return bytes;
    const length = Buffer.alloc(4);
    length.writeUInt32LE(bytes.length);
    return Buffer.concat([length, deflateSync(bytes, { level: 1 })]);
  },
  from(bytes: Buffer) {
    const isPlain = bytes.subarray(0, BEGINS.length).toString('latin1') === BEGINS;
    return JSON.parse((isPlain ? bytes : inflateSync(bytes.subarray(4))).toString('utf8')) as unknown;
  },
};

/** A document that is seldom read: JSON, compressed where it is long. */
export const compressedJson = { type: 'longblob', transformer: asCompressedJson } satisfies ColumnOptions;

/** A key of the charter or of people: small letters, digits, `_` and `-`. Compared byte by byte. */
export const key = { type: 'varchar', length: 48, charset: 'ascii', collation: 'ascii_bin' } satisfies ColumnOptions;

/** Text compared after `fold`: byte by byte, trailing blanks count. */
export const folded = { type: 'varchar', charset: 'utf8mb4', collation: 'utf8mb4_nopad_bin' } satisfies ColumnOptions;

/** The same of any length, so that no index holds it. */
export const foldedText = { type: 'text', charset: 'utf8mb4', collation: 'utf8mb4_nopad_bin' } satisfies ColumnOptions;

/** An instant, to the millisecond, UTC. */
export const instant = { type: 'datetime', precision: 3 } satisfies ColumnOptions;

export const whole = { type: 'int', unsigned: true } satisfies ColumnOptions;

/** How far rules are asked of what comes in. */
export const handling = {
  type: 'varchar',
  length: 8,
  charset: 'ascii',
  collation: 'ascii_bin',
  default: 'decide',
} satisfies ColumnOptions;
