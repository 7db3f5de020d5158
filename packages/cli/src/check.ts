import { findingWords, namesOf, problemsOf, readWorld, routeFindings, warningsOf } from '@relvik/core';
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
  const problems = problemsOf(reading.charter, world.world);
  if (problems.length > 0) throw Refusal.of(file, problems);
  for (const { path, message } of warningsOf(reading.charter, world.world))
    process.stderr.write(`${file}: warning: ${path} ${message}\n`);
  const wording = {
    names: namesOf(reading.charter, world.world),
    fields: world.world.fields,
    baseCurrency: reading.charter.baseCurrency,
  };
  for (const finding of routeFindings(reading.charter, world.world)) {
    const route = finding.code === 'route-never-reached' ? finding.route : finding.below;
    process.stderr.write(`${file}: warning: ${wording.names.route(route)}: ${findingWords(finding, wording)}\n`);
  }
  process.stdout.write(`${file}: valid, also with ${worldFile}.\n`);
  return true;
}
