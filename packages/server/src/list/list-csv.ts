import {
  isLeadColumn,
  LEAD_COLUMNS,
  type LeadColumn,
  type LeadQuery,
  type LeadRow,
  MORE_RECORD_COLUMNS,
  RECORD_COLUMNS,
  type RecordColumn,
  type RecordQuery,
  type RecordRow,
} from '@relvik/contracts';
import { instantText, type Names, type Place, type UnroutedKind } from '@relvik/core';
import type { Table } from '@relvik/formats';

/** The names that stand for keys in the file, and the time zone of its days. */
export interface CsvWording {
  readonly names: Names;
  readonly timeZone: string;
  /** Names of pipelines, by key. */
  readonly pipelines: ReadonlyMap<string, string>;
}

const HEADINGS: { readonly [C in LeadColumn | RecordColumn]: string } = {
  company: 'Company',
  contact: 'Contact',
  grade: 'Grade',
  rank: 'Rank',
  fit: 'Fit',
  engagement: 'Engagement',
  stage: 'Stage',
  territory: 'Territory',
  place: 'Where it is',
  owner: 'Owner',
  leads: 'Leads',
  arrived: 'Arrived',
  pipeline: 'Pipeline',
  asks: 'Asked about',
  waits: 'Waits for',
  task: 'Next task due',
};

/** The score set that a column is of; null: of none. */
function setIn(key: string): string | null {
  return key.startsWith('set:') ? key.slice(4) : null;
}

function placeText(place: Place, names: Names): string {
  switch (place.kind) {
    case 'owner':
      return names.rep(place.rep);
    case 'queue':
      return `Queue ${names.queue(place.queue)}`;
    case 'bay':
      return 'Bay';
    case 'not-handed-over':
      return 'Not handed over';
  }
}

function cell(row: LeadRow, column: LeadColumn, { names, timeZone, pipelines }: CsvWording): string {
  switch (column) {
    case 'company':
      return row.company;
    case 'grade':
      return row.grade ?? '';
    case 'rank':
    case 'fit':
    case 'engagement':
      return row[column] === null ? '' : String(row[column]);
    case 'stage':
      return names.stage(row.stage);
    case 'territory':
      return row.territory === null ? '' : names.territory(row.territory);
    case 'place':
      return placeText(row.place, names);
    case 'arrived':
      return instantText(row.arrived, timeZone);
    case 'pipeline':
      return pipelines.get(row.pipeline) ?? row.pipeline;
    case 'asks':
      return row.asks.map((gate) => names.gate(gate)).join('; ');
    case 'waits':
      return row.waits.map(({ gate, words }) => `${names.gate(gate)}: ${words}`).join('; ');
    case 'task':
      return row.nextTask === null ? '' : instantText(row.nextTask, timeZone);
  }
}

function recordCell(row: RecordRow, column: RecordColumn, { names, timeZone }: CsvWording): string {
  switch (column) {
    case 'company':
    case 'contact':
      return row.ties[column]?.name ?? '';
    case 'grade':
      return row.grade ?? '';
    case 'rank':
    case 'fit':
    case 'engagement':
      return row[column] === null ? '' : String(row[column]);
    case 'stage':
      return row.stage === null ? '' : names.stage(row.stage);
    case 'owner':
      return row.owner === null ? '' : names.rep(row.owner);
    case 'leads':
      return String(row.leads);
    case 'arrived':
      return instantText(row.arrived, timeZone);
    case 'task':
      return row.nextTask === null ? '' : instantText(row.nextTask, timeZone);
  }
}

/** Rows as a table: the id, the name, and the columns that are seen. */
function tableOf<Row extends Pick<LeadRow, 'id' | 'name' | 'values' | 'scores'>, Column extends string>(
  first: string,
  rows: readonly Row[],
  keys: readonly string[],
  isOwn: (key: string) => key is Column & (LeadColumn | RecordColumn),
  cellOf: (row: Row, column: Column) => string,
  { names }: CsvWording,
): Table {
  // A score set has three columns: its rank, and what it gives on either axis.
  const headings = (key: string): string[] => {
    if (isOwn(key)) return [HEADINGS[key]];
    const set = setIn(key);
    if (set === null) return [names.field(key.replace(/^field:/, ''))];
    return ['rank', 'fit', 'engagement'].map((part) => `${names.set(set)}, ${part}`);
  };
  const cells = (row: Row, key: string): string[] => {
    if (isOwn(key)) return [cellOf(row, key)];
    const set = setIn(key);
    if (set === null) return [row.values[key.replace(/^field:/, '')] ?? ''];
    const scores = row.scores[set];
    return [scores?.rank, scores?.fit, scores?.engagement].map((score) => String(score ?? ''));
  };
  return {
    header: ['Id', first, ...keys.flatMap(headings)],
    rows: rows.map((row) => [String(row.id), row.name, ...keys.flatMap((key) => cells(row, key))]),
  };
}

/** A list of leads as a table. */
export function csvOfLeads(rows: readonly LeadRow[], { columns }: LeadQuery, wording: CsvWording): Table {
  const keys = columns === undefined ? LEAD_COLUMNS : columns.split(',');
  return tableOf('Lead', rows, keys, isLeadColumn, (row, column) => cell(row, column, wording), wording);
}

/** A list of contacts, companies or deals as a table. */
export function csvOfRecords(
  kind: UnroutedKind,
  rows: readonly RecordRow[],
  { columns }: RecordQuery,
  wording: CsvWording,
): Table {
  const own = RECORD_COLUMNS[kind];
  const isOwn = (key: string): key is RecordColumn => [...own, ...MORE_RECORD_COLUMNS].some((one) => one === key);
  const first = `${kind.charAt(0).toUpperCase()}${kind.slice(1)}`;
  return tableOf(
    first,
    rows,
    columns?.split(',') ?? own,
    isOwn,
    (row, column) => recordCell(row, column, wording),
    wording,
  );
}
