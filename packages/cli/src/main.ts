import { Command, InvalidArgumentError, Option } from 'commander';
import { type Instant, parseInstant, RECORD_KINDS } from '@relvik/core';
import { join } from 'node:path';
import { check } from './check';
import { decideFiles } from './decide-files';
import { doctor } from './doctor';
import { Refusal } from './refusal';

function instant(text: string): Instant {
  const at = parseInstant(text);
  if (at === null) throw new InvalidArgumentError('It must be an instant such as 2026-11-24T08:30:00Z.');
  return at;
}

/** The command `relvik`. Exit code 0: done; 1: an input was refused; 2: wrong arguments. */
export function run(argv: readonly string[]): void {
  const relvik = new Command('relvik').description(
    'Relvik on files: the same decisions, without server or database; and the doctor of its database.',
  );
  relvik.exitOverride((end) => {
    process.exit(end.exitCode === 0 ? 0 : 2);
  });

  relvik
    .command('decide')
    .description('Decide records in file order; one line of JSON for each.')
    .requiredOption('--charter <file>', 'the charter, JSON')
    .requiredOption('--world <file>', 'fields, people, rates, open loads and turns, JSON')
    .requiredOption('--records <file>', 'the records, CSV: id and any fields, arrived, owner, stage')
    .addOption(new Option('--kind <kind>', 'of what kind the records are').choices(RECORD_KINDS).default('lead'))
    .option('--activities <file>', 'what happened with them, CSV: record, kind, at; other columns are properties')
    .option('--as-of <time>', 'the instant of every decision; else each record is decided at its own arrival', instant)
    .requiredOption('--out <file>', 'where the decisions go, one JSON object a line')
    .option('--world-out <file>', 'where the world goes, with loads and turns as they are afterwards')
    .option('--explain', 'print the account of every record')
    .action((files: Parameters<typeof decideFiles>[0]) => {
      refusing(() => {
        decideFiles(files);
      });
    });

  relvik
    .command('check')
    .argument('<file>', 'the charter, JSON')
    .description('Say whether a charter is valid, and where it is not.')
    .option('--world <file>', 'check the fields and people that it names, too')
    .action((file: string, { world }: { world?: string }) => {
      refusing(() => {
        process.exitCode = check(file, world) ? 0 : 1;
      });
    });

  relvik
    .command('doctor')
    .description(
      'Find what faults left in the database that npm start runs, and mend it. Exit code 1: something needs a person.',
    )
    .option('--look', 'only look, mend nothing')
    .option('--access <file>', 'how the database is reached', join(__dirname, '../../../.relvik/database/access.json'))
    .action(({ look, access }: { look?: true; access: string }) => {
      process.exitCode = doctor(access, look === true);
    });

  relvik.parse(argv);
}

function refusing(work: () => void): void {
  try {
    work();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 1;
  }
}
