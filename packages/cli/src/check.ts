import {
  charterFindings,
  type Finding,
  findingPlace,
  findingWords,
  isError,
  namesOf,
  readWorld,
  routeFindings,
} from '@relvik/core';
import { readCharterFile } from '@relvik/formats';
import { createHash } from 'node:crypto';
import { readJsonFile, readTextFile } from './read-file';
import { Refusal } from './refusal';

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/**
 * Checks a charter, bare or as it was exported, and prints the outcome. With a world, the fields and people it names are checked
 * too.
 */
export function check(file: string, worldFile: string | undefined): boolean {
  const reading = readCharterFile(readTextFile(file), sha256);
  if (!reading.ok) throw Refusal.of(file, reading.problems);
  if (worldFile === undefined) {
    process.stdout.write(`${file}: valid in itself. With --world the fields and people it names are checked too.\n`);
    return true;
  }
  const world = readWorld(readJsonFile(worldFile));
  if (!world.ok) throw Refusal.of(worldFile, world.problems);
  const { charter } = reading;
  const wording = {
    names: namesOf(charter, world.world),
    fields: world.world.fields,
    baseCurrency: charter.baseCurrency,
  };
  const said = (finding: Finding): string => `${findingWords(finding, wording)} (${findingPlace(finding)})`;
  const found = [...charterFindings(charter, world.world), ...routeFindings(charter, world.world)];
  const errors = found.filter(isError);
  if (errors.length > 0) throw new Refusal(errors.map((one) => `${file}: ${said(one)}`).join('\n'));
  for (const finding of found) process.stderr.write(`${file}: warning: ${said(finding)}\n`);
  process.stdout.write(`${file}: valid, also with ${worldFile}.\n`);
  return true;
}
