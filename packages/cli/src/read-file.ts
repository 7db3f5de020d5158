import { readFileSync } from 'node:fs';
import { readCsv, type Table } from '@relvik/formats';
import { Refusal } from './refusal';

export function readTextFile(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Refusal(`${file}: can't be read (${error instanceof Error ? error.message : String(error)})`);
  }
}

/** A JSON document; refused with the file's name when it is none. */
export function readJsonFile(file: string): unknown {
  try {
    return JSON.parse(readTextFile(file)) as unknown;
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal(`${file}: is not JSON (${error instanceof Error ? error.message : String(error)})`);
  }
}

/** A table with at least the named columns. */
export function readCsvFile(file: string, needs: readonly string[]): Table {
  const reading = readCsv(readTextFile(file));
  if (!reading.ok)
    throw new Refusal(reading.problems.map(({ row, message }) => `${file}: row ${row}: ${message}`).join('\n'));
  for (const column of needs) {
    if (!reading.table.header.includes(column)) throw new Refusal(`${file}: row 0: needs a column ${column}`);
  }
  return reading.table;
}
