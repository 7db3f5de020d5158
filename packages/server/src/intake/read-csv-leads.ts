import { CSV_ROWS, type FileOutcome } from '@relvik/contracts';
import { fold, type RepKey } from '@relvik/core';
import { Refused } from '../problem/refused';
import type { Governing } from '../store/governing';
import { type Inquiry, refusalOf } from '../act/accept-leads';
import { readTable } from './read-table';

/** The rows of a file that can be taken in, and those that can't. */
export interface CsvLeads {
  readonly inquiries: readonly { readonly row: number; readonly inquiry: Inquiry }[];
  readonly refused: FileOutcome['refused'];
  readonly warnings: FileOutcome['warnings'];
}

/** Columns are fields by key or name; `owner` names someone by key, name or e-mail. */
function columnsOf(header: readonly string[], governing: Governing): readonly string[] {
  const known = new Map<string, string>([['owner', 'owner']]);
  for (const field of governing.world.fields.values()) {
    if (field.retired) continue;
    known.set(fold(field.name), field.key);
    known.set(field.key, field.key);
  }
  const columns = header.map((name) => known.get(fold(name)));
  const errors = columns.flatMap((column, i) => {
    if (column === undefined) return [{ path: `/header/${i}`, message: `no field is called “${header[i] ?? ''}”` }];
    return columns.indexOf(column) < i ? [{ path: `/header/${i}`, message: `stands twice: ${column}` }] : [];
  });
  if (errors.length > 0) throw Refused.as('unknown-columns', { errors });
  return columns as readonly string[];
}

/** Reads a file of leads. A file that is no CSV is refused as a whole; a row that can't be taken in is refused by row and field. */
export function readCsvLeads(
  text: string,
  governing: Governing,
  people: ReadonlyMap<string, RepKey>,
  by: string,
  at: Date,
): CsvLeads {
  const { header, rows } = readTable(text, CSV_ROWS);
  const columns = columnsOf(header, governing);

  const inquiries: { row: number; inquiry: Inquiry }[] = [];
  const refused: { row: number; field: string; message: string }[] = [];
  const warnings: { row: number; field: string; message: string }[] = [];
  rows.forEach((cells, i) => {
    const row = i + 1;
    const values: Record<string, string> = {};
    let named = '';
    columns.forEach((column, c) => {
      const cell = cells[c] ?? '';
      if (column === 'owner') named = cell.trim();
      else if (cell.trim() !== '') values[column] = cell;
    });
    const refusals = [
      ...refusalOf(values, governing, null),
      ...Object.entries(values).flatMap(([field, value]) =>
        value.length > 2000 ? [{ field, message: 'has more than 2,000 characters' }] : [],
      ),
    ];
    if (refusals.length > 0) {
      refused.push(...refusals.map((refusal) => ({ row, ...refusal })));
      return;
    }
    const owner = named === '' ? null : (people.get(fold(named)) ?? null);
    if (named !== '' && owner === null)
      warnings.push({ row, field: 'owner', message: `nobody here is called “${named}”: the routes decide` });
    inquiries.push({ row, inquiry: { way: 'csv', by, at, values, owner } });
  });
  return { inquiries, refused, warnings };
}
