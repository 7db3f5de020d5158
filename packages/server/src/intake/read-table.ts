import { readCsv, type Table } from '@relvik/formats';
import { Refused } from '../problem/refused';

/** Reads a file as a table; one that is no CSV, or has too many rows, is refused as a whole with every place named. */
export function readTable(text: string, most: number): Table {
  const reading = readCsv(text);
  if (!reading.ok) {
    throw Refused.as('not-csv', {
      errors: reading.problems
        .slice(0, 100)
        .map(({ row, message }) => ({ path: row === 0 ? '/header' : `/rows/${row}`, message })),
    });
  }
  const { rows } = reading.table;
  if (rows.length > most)
    throw Refused.invalid([{ path: '/rows', message: `has ${rows.length} rows; at most ${most} at a time` }]);
  return reading.table;
}
