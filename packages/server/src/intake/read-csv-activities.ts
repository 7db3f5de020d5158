import { ACTIVITY_ROWS, PROPERTIES, type SentActivity } from '@relvik/contracts';
import { FIELD_KEY, fold } from '@relvik/core';
import { Refused } from '../problem/refused';
import { readTable } from './read-table';

const COLUMNS = ['kind', 'at', 'event', 'lead', 'email'] as const;
type Column = (typeof COLUMNS)[number];

function isColumn(name: string): name is Column {
  return (COLUMNS as readonly string[]).includes(name);
}

/** Reads a file of activities: columns kind, at, event, lead or email; every other column is a property. */
export function readCsvActivities(text: string): SentActivity[] {
  const { header, rows } = readTable(text, ACTIVITY_ROWS);
  const columns = header.map((name) => fold(name).replaceAll(/[ -]/g, '_'));
  const errors = columns.flatMap((column, i) => {
    if (columns.indexOf(column) < i) return [{ path: `/header/${i}`, message: `stands twice: ${column}` }];
    return FIELD_KEY.test(column)
      ? []
      : [{ path: `/header/${i}`, message: `can't be a property: “${header[i] ?? ''}”` }];
  });
  if (!columns.includes('kind')) errors.push({ path: '/header', message: 'needs a column kind' });
  if (columns.filter((column) => !isColumn(column)).length > PROPERTIES)
    errors.push({ path: '/header', message: `has more than ${PROPERTIES} properties` });
  if (errors.length > 0) throw Refused.as('unknown-columns', { errors });
  return rows.map((cells) => {
    const sent: Record<string, unknown> = {};
    const properties: Record<string, string> = {};
    columns.forEach((column, c) => {
      const cell = (cells[c] ?? '').trim();
      if (cell === '') return;
      if (!isColumn(column)) properties[column] = cell.slice(0, 500);
      else sent[column] = column === 'lead' ? Number(cell) : cell;
    });
    return { kind: '', ...sent, properties };
  });
}
