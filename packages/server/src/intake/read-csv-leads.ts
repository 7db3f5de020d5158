import { CSV_ROWS } from '@relvik/contracts';
import { fieldsOf, fold, type RepKey } from '@relvik/core';
import { Refused } from '../problem/refused';
import type { RowNote } from '../store/entity/import.entity';
import type { Governing } from '../store/governing';
import { refusalOf } from '../act/accept-leads';
import { readTable } from './read-table';

/** The rows of a file that can be taken in, and those that can't, numbered from 1. */
export interface CsvLeads {
  readonly rows: readonly {
    readonly row: number;
    readonly values: Readonly<Record<string, string>>;
    readonly owner: RepKey | null;
  }[];
  readonly refused: readonly { readonly row: number; readonly notes: readonly RowNote[] }[];
}

/** Columns are fields by key or name; `owner` names someone by key, name or e-mail. */
function columnsOf(header: readonly string[], governing: Governing): readonly string[] {
  const known = new Map<string, string>([['owner', 'owner']]);
  for (const field of fieldsOf(governing.world.fields, 'lead')) {
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

/**
 * Reads a file of leads. A file that is no CSV is refused as a whole; a row that can't be taken in is refused by row and field.
 *
 * @param ownerOf whom a name in the column “owner” means, or why they can't have a lead
 */
export function readCsvLeads(
  text: string,
  governing: Governing,
  ownerOf: (named: string) => { readonly rep: RepKey } | { readonly refusal: string },
): CsvLeads {
  const { header, rows: lines } = readTable(text, CSV_ROWS);
  const columns = columnsOf(header, governing);

  const rows: CsvLeads['rows'][number][] = [];
  const refused: CsvLeads['refused'][number][] = [];
  lines.forEach((cells, i) => {
    const row = i + 1;
    const values: Record<string, string> = {};
    let named = '';
    columns.forEach((column, c) => {
      const cell = cells[c] ?? '';
      if (column === 'owner') named = cell.trim();
      else if (cell.trim() !== '') values[column] = cell;
    });
    const owner = named === '' ? null : ownerOf(named);
    const notes = [
      ...refusalOf(values, governing, undefined),
      ...Object.entries(values).flatMap(([field, value]) =>
        value.length > 2000 ? [{ field, message: 'has more than 2,000 characters' }] : [],
      ),
      ...(owner !== null && 'refusal' in owner ? [{ field: 'owner', message: owner.refusal }] : []),
    ];
    if (notes.length > 0) refused.push({ row, notes });
    else rows.push({ row, values, owner: owner !== null && 'rep' in owner ? owner.rep : null });
  });
  return { rows, refused };
}
