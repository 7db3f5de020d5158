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

async function insert(
  manager: EntityManager,
  entity: new () => object,
  rows: readonly object[],
  ending: (table: Table) => string,
): Promise<void> {
  const table = tableOf(manager, entity);
  for (let i = 0; i < rows.length; i += ROWS)
    await manager.query(
      `INSERT INTO ${table.name} (${table.columns.map(({ name }) => `\`${name}\``).join(', ')}) VALUES ? ${ending(table)}`,
      [rows.slice(i, i + ROWS).map((row) => table.columns.map(({ cellOf }) => cellOf(row)))],
    );
}

/** Inserts new rows, many in a statement. A row that stands already fails the whole. */
export function insertRows<T extends object>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly Partial<T>[],
): Promise<void> {
  return insert(manager, entity, rows, () => '');
}

/**
 * Inserts rows, or replaces those with the same primary key.
 *
 * Only for tables without another unique index: a clash there would overwrite a row of someone else.
 */
export function replaceRows<T extends object>(
  manager: EntityManager,
  entity: new () => T,
  rows: readonly T[],
): Promise<void> {
  return insert(
    manager,
    entity,
    rows,
    ({ columns }) =>
      `ON DUPLICATE KEY UPDATE ${columns.map(({ name }) => `\`${name}\` = VALUES(\`${name}\`)`).join(', ')}`,
  );
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
