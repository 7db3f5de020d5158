import { writeFileSync } from 'node:fs';
import {
  advance,
  type AnyRecord,
  bindCharter,
  decide,
  type Decision,
  type Graded,
  gradeRecord,
  type Instant,
  type MovingRecord,
  namesOf,
  readCharter,
  readWorld,
  reasonsOf,
  type RecordKind,
  withRota,
  type WorldDocument,
  type Wording,
} from '@relvik/core';
import { decisionLine, gatedLine, gradeLine } from './decision-line';
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
  /** Of what kind the records are: leads are decided, deals scored, graded and taken through gates, others scored and graded. */
  readonly kind: RecordKind;
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

/** The account of a grade for people: a line for each signal that gave points. */
function gradeAccount(id: string, { score, grade }: Graded, wording: Wording): string {
  const lines = score.signals
    .filter(({ points }) => points !== 0)
    .map(({ signal, points }) => `  score     ${wording.names.signal(signal)}: ${points > 0 ? '+' : ''}${points}\n`);
  return `${id}\n${lines.join('')}  grade     ${grade?.name ?? 'none'}\n`;
}

function reasonLine({ step, text }: { readonly step: string; readonly text: string }): string {
  return `  ${step.padEnd(9)} ${text}\n`;
}

function isMoving(record: AnyRecord): record is MovingRecord {
  return record.standing !== null;
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
    if (!isMoving(record)) {
      const graded = gradeRecord(binding.ready, record, world, asOf);
      if (files.explain) process.stdout.write(gradeAccount(record.id, graded, wording));
      return JSON.stringify(gradeLine(record, graded, asOf));
    }
    const decision = decide(binding.ready, record, world, record.standing.stage === null ? 'created' : 'edited', asOf);
    if (record.kind === 'deal') {
      const line = gatedLine(record, decision, wording);
      if (files.explain)
        process.stdout.write(`${gradeAccount(record.id, decision, wording)}${line.reasons.map(reasonLine).join('')}`);
      return JSON.stringify(line);
    }
    advance(world.rota, decision);
    if (files.explain) process.stdout.write(accountOf(decision, wording));
    return JSON.stringify(decisionLine(decision, wording));
  });
  writeFileSync(files.out, lines.map((line) => `${line}\n`).join(''));
  if (files.worldOut !== undefined) {
    writeFileSync(files.worldOut, `${JSON.stringify(withRota(document as WorldDocument, world.rota), null, 2)}\n`);
  }
}
