import { writeFileSync } from 'node:fs';
import {
  advance,
  bindCharter,
  decide,
  type Decision,
  type Instant,
  namesOf,
  readCharter,
  readWorld,
  reasonsOf,
  withRota,
  type WorldDocument,
  type Wording,
} from '@relvik/core';
import { decisionLine } from './decision-line';
import { readJsonFile } from './read-file';
import { readRecords } from './read-records';
import { Refusal } from './refusal';

/** The files of `relvik decide`. */
export interface DecideFiles {
  readonly charter: string;
  readonly world: string;
  readonly records: string;
  readonly activities?: string;
  readonly asOf?: Instant;
  readonly out: string;
  readonly worldOut?: string;
  /** Print the account of every record, too. */
  readonly explain?: boolean;
}

/** The account of one decision for people: a line for each reason, under the step it belongs to. */
function accountOf(decision: Decision, wording: Wording): string {
  let step = '';
  const lines = reasonsOf(decision, wording).map((reason) => {
    const begins = reason.step !== step;
    step = reason.step;
    return `  ${(begins ? step : '').padEnd(9)} ${reason.text}\n`;
  });
  return `${decision.record}\n${lines.join('')}`;
}

/** Decides every record in file order, each with the turns and loads that the ones before it left. */
export function decideFiles(files: DecideFiles): void {
  const charter = readCharter(readJsonFile(files.charter));
  if (!charter.ok) throw Refusal.of(files.charter, charter.problems);
  const document = readJsonFile(files.world);
  const reading = readWorld(document);
  if (!reading.ok) throw Refusal.of(files.world, reading.problems);
  const { world } = reading;
  const binding = bindCharter(charter.charter, world);
  if (!binding.ok) throw Refusal.of(files.charter, binding.problems);

  const wording: Wording = {
    names: namesOf(charter.charter, world),
    fields: world.fields,
    baseCurrency: charter.charter.baseCurrency,
  };
  const lines = readRecords(files, charter.charter, world).map(({ record, asOf }) => {
    const decision = decide(binding.ready, record, world, record.standing.stage === null ? 'created' : 'edited', asOf);
    advance(world.rota, decision);
    if (files.explain) process.stdout.write(accountOf(decision, wording));
    return JSON.stringify(decisionLine(decision, wording));
  });
  writeFileSync(files.out, lines.map((line) => `${line}\n`).join(''));
  if (files.worldOut !== undefined) {
    writeFileSync(files.worldOut, `${JSON.stringify(withRota(document as WorldDocument, world.rota), null, 2)}\n`);
  }
}
