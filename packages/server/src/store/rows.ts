import { format } from 'mysql2';
import type { EntityManager } from 'typeorm';

type Cell = string | number | boolean | Date | Buffer | null;

interface Table {
  readonly name: string;
  readonly columns: readonly { readonly name: string; readonly cellOf: (row: object) => Cell }[];
}

const tables = new WeakMap<object, Table>();

/** How rows of an entity become cells; worked out once for each connection pool. Numbers that the database gives are left out. */
function tableOf(manager: EntityManager, entity: new () => object): Table {
  const metadata = manager.dataSource.getMetadata(entity);
  const known = tables.get(metadata);
  if (known) return known;
  const columns = metadata.columns
    .filter(({ isGenerated }) => !isGenerated)
    .map(({ databaseName, propertyName, transformer }) => ({
      name: databaseName,
      cellOf(row: object): Cell {
        const value = (row as Record<string, unknown>)[propertyName] ?? null;
        const to = transformer && !Array.isArray(transformer) ? transformer.to : undefined;
        return (to ? (to(value) as Cell) : value) as Cell;
      },
    }));
  const table = { name: `\`${metadata.tableName}\``, columns };
  tables.set(metadata, table);
  return table;
}

/** Rows in one statement: more would pass the packet size with long decisions. */
const ROWS = 1000;

const namesOf = (columns: Table['columns']): string => columns.map(({ name }) => `\`${name}\``).join(', ');

/** The statements that insert new rows, many in each. */
export function insertsOf<T extends object>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly Partial<T>[],
): string[] {
  const { name, columns } = tableOf(manager, entity);
  const statements: string[] = [];
  for (let i = 0; i < rows.length; i += ROWS) {
    const cells = rows.slice(i, i + ROWS).map((row) => columns.map(({ cellOf }) => cellOf(row)));
    // Columns that are null in every row are left out, so the database need not parse them.
    const given = columns.map((_, column) => cells.some((row) => row[column] !== null));
    const some = <C>(list: readonly C[]): C[] => list.filter((_, column) => given[column]);
    statements.push(format(`INSERT INTO ${name} (${namesOf(some(columns))}) VALUES ?`, [cells.map(some)], false, 'Z'));
  }
  return statements;
}

/** Inserts new rows, many in a statement. A row that stands already fails the whole. */
export function insertRows<T extends object>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly Partial<T>[],
): Promise<void> {
  return carryOut(manager, [() => insertsOf(manager, entity, rows)]);
}

/** Carries statements out in order; each kind is made while the database carries out what was made before. */
export async function carryOut(manager: EntityManager, kinds: readonly (() => readonly string[])[]): Promise<void> {
  let sent: Promise<unknown> = Promise.resolve();
  for (const make of kinds) {
    const statements = await meanwhile(sent, make);
    const [first, ...others] = statements;
    sent = first === undefined ? Promise.resolve() : manager.query(first);
    for (const statement of others) {
      await sent;
      sent = manager.query(statement);
    }
  }
  await sent;
}

/**
 * Computes while the database carries out a statement that is on its way.
 *
 * It ends only when both have: work that goes on after a failure would send its next statement behind the ROLLBACK, where it
 * stands alone and is kept.
 */
export async function meanwhile<T>(sent: Promise<unknown>, compute: () => T): Promise<T> {
  const computing = new Promise((resume) => setImmediate(resume)).then(compute);
  const [carriedOut, computed] = await Promise.allSettled([sent, computing]);
  if (carriedOut.status === 'rejected') throw carriedOut.reason;
  if (computed.status === 'rejected') throw computed.reason;
  return computed.value;
}

/**
 * Inserts rows, or replaces those with the same primary key.
 *
 * Only for tables without another unique index: a clash there would overwrite a row of someone else.
 */
export async function replaceRows<T extends object>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly T[],
): Promise<void> {
  const { name, columns } = tableOf(manager, entity);
  const replaced = columns.map((column) => `\`${column.name}\` = VALUES(\`${column.name}\`)`).join(', ');
  for (let i = 0; i < rows.length; i += ROWS)
    await manager.query(`INSERT INTO ${name} (${namesOf(columns)}) VALUES ? ON DUPLICATE KEY UPDATE ${replaced}`, [
      rows.slice(i, i + ROWS).map((row) => columns.map(({ cellOf }) => cellOf(row))),
    ]);
}

/** A row was changed since it was read: what was computed from it is out of date. */
export class OutOfDate extends Error {}

/**
 * Updates rows by id, each only if it still has the version before the one given.
 *
 * @throws OutOfDate if one of them is gone or has another version; the transaction is to be begun again
 */
export async function updateVersions<T extends { id: number; version: number }>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly T[],
): Promise<void> {
  const { name, columns } = tableOf(manager, entity);
  const given = columns.map((column) => `\`${column.name}\``);
  const set = given.filter((column) => column !== '`id`').map((column) => `${name}.${column} = given.${column}`);
  for (let i = 0; i < rows.length; i += ROWS) {
    const some = rows.slice(i, i + ROWS).map((row) => columns.map(({ cellOf }) => cellOf(row)));
    // Straight: the given rows first, each found by its primary key, so that no other row is looked at or locked.
    const { affectedRows } = await manager.query<{ affectedRows: number }>(
      `UPDATE (WITH given (${given.join(', ')}) AS (VALUES ?) SELECT * FROM given) AS given
       STRAIGHT_JOIN ${name} ON ${name}.id = given.id AND ${name}.version = given.version - 1
       SET ${set.join(', ')}`,
      [some],
    );
    if (affectedRows !== some.length)
      throw new OutOfDate(`${some.length - affectedRows} of ${some.length} rows of ${name} were changed meanwhile`);
  }
}
