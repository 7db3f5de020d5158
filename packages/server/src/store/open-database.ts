import { format } from 'mysql2';
import { AbstractLogger, DataSource, DefaultNamingStrategy, type LogLevel, type LogMessage } from 'typeorm';
import { ENTITIES } from './entity';
import { MIGRATIONS } from './migration';
import { watchedSocket } from './watched-socket';

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

/** A statement for a request must be answered within this time, ms. */
export const PATIENCE = 15_000;
/** Migrations, and what nobody waits for, may take long. */
export const LONG_PATIENCE = 600_000;

/** A statement without parameters is sent as it is: searching one of a thousand rows for placeholders takes as long as writing it. */
function queryFormat(sql: string, values: Parameters<typeof format>[1], timezone: string): string {
  return Array.isArray(values) && values.length === 0 ? sql : format(sql, values, false, timezone);
}

/**
 * A data source that isn't connected yet.
 *
 * @param patience how long the database may take to begin its answer to a statement, ms
 */
export function describeDatabase(given: Access, patience = PATIENCE): DataSource {
  const { user, ...access } = given;
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
    connectTimeout: 5000,
    extra: {
      supportBigNumbers: true,
      bigNumberStrings: true,
      queueLimit: 2000,
      queryFormat,
      stream: () => watchedSocket(given, patience),
    },
  });
}

/** Passes on what migrations say of how far they are. */
class MigrationProgress extends AbstractLogger {
  constructor(private readonly say: (text: string) => void) {
    super(['migration']);
  }

  protected writeLog(_level: LogLevel, message: LogMessage | string | number | (LogMessage | string | number)[]): void {
    for (const { message: text } of this.prepareLogMessages(message)) this.say(String(text));
  }
}

/**
 * Connects, and brings the schema up to date.
 *
 * @param progress is told how far a migration is that takes long
 */
export async function openDatabase(
  access: Access,
  patience = PATIENCE,
  progress: (text: string) => void = () => undefined,
): Promise<DataSource> {
  const migrating = describeDatabase(access, LONG_PATIENCE).setOptions({ logger: new MigrationProgress(progress) });
  await migrating.initialize();
  await migrating.runMigrations();
  await migrating.destroy();
  return describeDatabase(access, patience).initialize();
}
