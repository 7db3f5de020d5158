import Papa from 'papaparse';

/** A table as text: the header's names, and the cells of each row under them. */
export interface Table {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

export type CsvReading =
  { readonly ok: true; readonly table: Table } | { readonly ok: false; readonly problems: readonly CsvProblem[] };

/** What is wrong in a file; `row` counts records from 1, the header is row 0. */
export interface CsvProblem {
  readonly row: number;
  readonly message: string;
}

/**
 * Reads CSV as RFC 4180 describes it: quotes, line ends inside quotes, CRLF or LF; a byte order mark is passed over.
 *
 * The separator is the comma, or the semicolon where the header has no comma outside quotes. Empty lines are passed over.
 * A file with a broken quote, a header name that is empty or stands twice, or a row with more cells than the header is
 * refused as a whole, with every such place named; a row with fewer cells is filled up with empty ones.
 */
export function readCsv(text: string): CsvReading {
  const body = text.replace(/^\uFEFF/, '');
  const delimiter =
    Papa.parse<string[]>(body, { preview: 1, delimiter: ',' }).data[0]?.length === 1 && /^[^\r\n]*;/.test(body)
      ? ';'
      : ',';
  const parsed = Papa.parse<string[]>(body, { delimiter, skipEmptyLines: 'greedy' });
  const [header = [], ...rows] = parsed.data;
  const names = header.map((name) => name.trim());

  const problems: CsvProblem[] = parsed.errors.map((error) => ({ row: error.row ?? 0, message: error.message }));
  if (names.length === 0) problems.push({ row: 0, message: 'The file is empty: it needs a header row' });
  names.forEach((name, i) => {
    if (name === '') problems.push({ row: 0, message: `Column ${i + 1} has no name` });
    else if (names.indexOf(name) < i) problems.push({ row: 0, message: `Two columns are named ${name}` });
  });
  rows.forEach((cells, i) => {
    if (cells.length > names.length)
      problems.push({ row: i + 1, message: `Has ${cells.length} cells, the header has ${names.length}` });
  });
  if (problems.length > 0) return { ok: false, problems };
  return { ok: true, table: { header: names, rows: rows.map((cells) => names.map((_, i) => cells[i] ?? '')) } };
}

/**
 * Writes CSV as RFC 4180 describes it, with CRLF line ends.
 *
 * Cells that a spreadsheet would run as a formula (beginning with `=`, `+`, `-`, `@`, tab or CR) get a leading apostrophe,
 * unless they are plain numbers.
 */
export function writeCsv({ header, rows }: Table): string {
  return `${Papa.unparse([[...header]], { newline: '\r\n' })}\r\n${writeCsvRows(rows)}`;
}

/** More rows of a table whose header, and first rows, were written by {@link writeCsv}. */
export function writeCsvRows(rows: Table['rows']): string {
  if (rows.length === 0) return '';
  const safe = (cell: string): string =>
    /^[=+\-@\t\r]/.test(cell) && !/^[+-]?\d+(\.\d+)?$/.test(cell) ? `'${cell}` : cell;
  return (
    Papa.unparse(
      rows.map((row) => row.map(safe)),
      { newline: '\r\n' },
    ) + '\r\n'
  );
}
