import { CSV_ROWS } from '@relvik/contracts';
import { fieldsOf, fold, pipelinesOf, type RecordKind, type RepKey } from '@relvik/core';
import { Refused } from '../problem/refused';
import type { NamedTies, RowNote } from '../store/entity/import.entity';
import type { Governing } from '../store/governing';
import { refusalOf } from '../act/accept-leads';
import { recordRefusals } from '../act/incoming-record';
import { readTable } from './read-table';

/** The rows of a file that can be taken in, and those that can't, numbered from 1. */
export interface CsvRecords {
  readonly rows: readonly {
    readonly row: number;
    readonly values: Readonly<Record<string, string>>;
    readonly ties: NamedTies | null;
    readonly owner: RepKey | null;
  }[];
  readonly refused: readonly { readonly row: number; readonly notes: readonly RowNote[] }[];
}

/** Columns that are no fields, by kind: whose it is, what it is tied to, where it stands. */
const BESIDE = {
  lead: ['owner', 'pipeline'],
  contact: ['owner', 'company'],
  company: ['owner'],
  deal: ['owner', 'company', 'contact', 'stage'],
} as const satisfies Readonly<Record<RecordKind, readonly string[]>>;
const TIES = ['company', 'contact', 'stage', 'pipeline'] as const;

/** Columns are fields by key or name; `owner` names someone by key, name or e-mail; `pipeline` one of leads by key or name. */
function columnsOf(header: readonly string[], kind: RecordKind, governing: Governing): readonly string[] {
  const known = new Map<string, string>();
  for (const field of fieldsOf(governing.world.fields, kind)) {
    if (field.retired) continue;
    known.set(fold(field.name), field.key);
    known.set(field.key.slice(field.key.indexOf('.') + 1), field.key);
    known.set(field.key, field.key);
  }
  for (const name of BESIDE[kind]) known.set(name, name);
  const columns = header.map((name) => known.get(fold(name)));
  const errors = columns.flatMap((column, i) => {
    if (column === undefined) return [{ path: `/header/${i}`, message: `no field is called “${header[i] ?? ''}”` }];
    return columns.indexOf(column) < i ? [{ path: `/header/${i}`, message: `stands twice: ${column}` }] : [];
  });
  if (errors.length > 0) throw Refused.as('unknown-columns', { errors });
  return columns as readonly string[];
}

/**
 * Reads a file of records of a kind. A file that is no CSV is refused as a whole; a row that can't be taken in is refused by row and field.
 *
 * @param ownerOf whom a name in the column “owner” means, or why they can't have one
 */
export function readCsvRecords(
  text: string,
  kind: RecordKind,
  governing: Governing,
  ownerOf: (named: string) => { readonly rep: RepKey } | { readonly refusal: string },
): CsvRecords {
  const { header, rows: lines } = readTable(text, CSV_ROWS);
  const columns = columnsOf(header, kind, governing);

  const rows: CsvRecords['rows'][number][] = [];
  const refused: CsvRecords['refused'][number][] = [];
  lines.forEach((cells, i) => {
    const row = i + 1;
    const values: Record<string, string> = {};
    const beside: Partial<Record<string, string>> = {};
    columns.forEach((column, c) => {
      const cell = cells[c] ?? '';
      if (cell.trim() === '') return;
      if ((BESIDE[kind] as readonly string[]).includes(column)) beside[column] = cell.trim();
      else values[column] = cell;
    });
    const { owner: named = '', pipeline: into } = beside;
    const owner = named === '' ? null : ownerOf(named);
    const pipeline = into === undefined ? null : pipelineNamed(into, governing);
    if (pipeline !== null) beside['pipeline'] = pipeline;
    const notes = [
      ...(kind === 'lead'
        ? refusalOf(values, governing, undefined)
        : recordRefusals(kind, { values, allowed: null }, governing)),
      ...Object.entries(values).flatMap(([field, value]) =>
        value.length > 2000 ? [{ field, message: 'has more than 2,000 characters' }] : [],
      ),
      ...TIES.flatMap((tie) =>
        (beside[tie]?.length ?? 0) > 200 ? [{ field: tie, message: 'has more than 200 characters' }] : [],
      ),
      ...(into !== undefined && pipeline === null
        ? [{ field: 'pipeline', message: `no pipeline of leads is called “${into}”` }]
        : []),
      ...(owner !== null && 'refusal' in owner ? [{ field: 'owner', message: owner.refusal }] : []),
    ];
    if (notes.length > 0) refused.push({ row, notes });
    else rows.push({ row, values, ties: tiesIn(beside), owner: owner !== null && 'rep' in owner ? owner.rep : null });
  });
  return { rows, refused };
}

/** The key of a pipeline of leads by its key or name; null: none is called so. */
function pipelineNamed(named: string, { ready }: Governing): string | null {
  const found = pipelinesOf(ready.charter, 'lead').find(({ key, name }) => [key, fold(name)].includes(fold(named)));
  return found?.key ?? null;
}

function tiesIn(beside: Partial<Record<string, string>>): NamedTies | null {
  const ties = TIES.flatMap((tie) => (beside[tie] === undefined ? [] : [[tie, beside[tie]] as const]));
  return ties.length === 0 ? null : Object.fromEntries(ties);
}
