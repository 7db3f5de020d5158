import { DataSource, DefaultNamingStrategy } from 'typeorm';
import { ENTITIES } from './entity';
import { MIGRATIONS } from './migration';

/** Where the database is: over loopback, or by a socket. */
export type Access = { readonly user: string; readonly password: string; readonly database: string } & (
  { readonly host: string; readonly port: number } | { readonly socketPath: string }
);

/** snake_case columns, and keys named after table and columns. */
class Naming extends DefaultNamingStrategy {
  override columnName(property: string, custom: string | undefined, prefixes: string[]): string {
    return custom ?? [...prefixes, property].join('_').replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
  }
}

/** A data source that isn't connected yet. */
export function describeDatabase({ user, ...access }: Access): DataSource {
  return new DataSource({
    type: 'mariadb',
    username: user,
    ...access,
    charset: 'utf8mb4',
    timezone: 'Z',
    entities: ENTITIES,
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'each',
    namingStrategy: new Naming(),
    synchronize: false,
    poolSize: 12,
    extra: { supportBigNumbers: true, bigNumberStrings: true },
  });
}

/** Connects, and brings the schema up to date. */
export async function openDatabase(access: Access): Promise<DataSource> {
  const source = await describeDatabase(access).initialize();
  await source.runMigrations();
  return source;
}
