import { bindCharter, readCharter, readWorld } from '@relvik/core';
import { readJsonFile } from './read-file';
import { Refusal } from './refusal';

/** Checks a charter file and prints the outcome. With a world, the fields and people it names are checked too. */
export function check(file: string, worldFile: string | undefined): boolean {
  const reading = readCharter(readJsonFile(file));
  if (!reading.ok) throw Refusal.of(file, reading.problems);
  if (worldFile === undefined) {
    process.stdout.write(`${file}: valid in itself. With --world the fields and people it names are checked too.\n`);
    return true;
  }
  const world = readWorld(readJsonFile(worldFile));
  if (!world.ok) throw Refusal.of(worldFile, world.problems);
  const binding = bindCharter(reading.charter, world.world);
  if (!binding.ok) throw Refusal.of(file, binding.problems);
  process.stdout.write(`${file}: valid, also with ${worldFile}.\n`);
  return true;
}
