import { LEAD_COLUMNS, type LeadColumn, type LeadQuery, type LeadRow } from '@relvik/contracts';
import { instantText, type Names, type Place } from '@relvik/core';
import type { Table } from '@relvik/formats';

/** What keys are called in the file, and whose days it has. */
export interface CsvWording {
  readonly names: Names;
  readonly timeZone: string;
}

const HEADINGS: { readonly [C in LeadColumn]: string } = {
  company: 'Company',
  grade: 'Grade',
  rank: 'Rank',
  fit: 'Fit',
  engagement: 'Engagement',
  stage: 'Stage',
  territory: 'Territory',
  place: 'Where it is',
  arrived: 'Arrived',
};

function isListColumn(key: string): key is LeadColumn {
  return (LEAD_COLUMNS as readonly string[]).includes(key);
}

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

function cell(row: LeadRow, column: LeadColumn, { names, timeZone }: CsvWording): string {
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
  }
}

/** A list of leads as a table: the id, the name, and the columns that are seen. */
export function csvOfLeads(rows: readonly LeadRow[], { columns }: LeadQuery, wording: CsvWording): Table {
  const keys = columns === undefined ? [...LEAD_COLUMNS] : columns.split(',');
  const { names } = wording;
  // A score set has three columns: its rank, and what it gives on either axis.
  const headings = (key: string): string[] => {
    if (isListColumn(key)) return [HEADINGS[key]];
    const set = setIn(key);
    if (set === null) return [names.field(key.replace(/^field:/, ''))];
    return ['rank', 'fit', 'engagement'].map((part) => `${names.set(set)}, ${part}`);
  };
  const cells = (row: LeadRow, key: string): string[] => {
    if (isListColumn(key)) return [cell(row, key, wording)];
    const set = setIn(key);
    if (set === null) return [row.values[key.replace(/^field:/, '')] ?? ''];
    const scores = row.scores[set];
    return [scores?.rank, scores?.fit, scores?.engagement].map((score) => String(score ?? ''));
  };
  return {
    header: ['Id', 'Lead', ...keys.flatMap(headings)],
    rows: rows.map((row) => [String(row.id), row.name, ...keys.flatMap((key) => cells(row, key))]),
  };
}
