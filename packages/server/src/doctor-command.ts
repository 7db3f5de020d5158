import 'reflect-metadata';
import { existsSync, readFileSync } from 'node:fs';
import { examine } from './doctor/examine';
import { type Access, describeDatabase, LONG_PATIENCE } from './store/open-database';

/** `relvik doctor`: looks for what faults left in the database, and mends it unless told only to look. */
async function main(): Promise<void> {
  const file = process.env['RELVIK_ACCESS'] ?? '';
  if (!existsSync(file)) {
    process.stderr.write(
      `There is no database to look at: ${file || 'RELVIK_ACCESS'} is missing. npm start makes it.\n`,
    );
    process.exit(2);
  }
  const mend = !process.argv.includes('--look');
  const source = await describeDatabase(JSON.parse(readFileSync(file, 'utf8')) as Access, LONG_PATIENCE).initialize();
  const findings = await examine(source, new Date(), mend);
  await source.destroy();
  for (const { count, what, some, mended } of findings)
    process.stdout.write(`${count} ${what} (${some.join(', ')}): ${mended ? 'mended' : 'not mended'}\n`);
  if (findings.length === 0) process.stdout.write('Nothing is wrong.\n');
  process.exit(findings.every(({ mended }) => mended) ? 0 : 1);
}

main().catch((error: unknown) => {
  process.stderr.write(`The database can't be looked at: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(2);
});
