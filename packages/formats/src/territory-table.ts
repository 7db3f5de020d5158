import {
  type Ground,
  groundsOf,
  type OwnPlaces,
  type PostalCoverage,
  readGrounds,
  type Territory,
  TERRITORY_COLOURS,
} from '@relvik/core';
import type { CsvProblem, Table } from './csv';

/** The columns of territories as a file. */
export const TERRITORY_COLUMNS = ['key', 'name', 'inside', 'code', 'team', 'manager', 'colour', 'ground'] as const;
type Column = (typeof TERRITORY_COLUMNS)[number];

/**
 * A ground as it is written in files: a country or region by its code, postal codes after their country.
 *
 * @example groundText({ kind: 'postal', coverage: { kind: 'prefix', country: 'DE', prefix: '80' } }) // 'DE 80*'
 */
export function groundText(ground: Ground): string {
  switch (ground.kind) {
    case 'country':
      return ground.country;
    case 'region':
      return ground.region;
    case 'postal':
      return `${ground.coverage.country} ${codesText(ground.coverage)}`;
  }
}

function codesText(coverage: PostalCoverage): string {
  switch (coverage.kind) {
    case 'code':
      return coverage.code;
    case 'prefix':
      return `${coverage.prefix}*`;
    case 'range':
      return `${coverage.from}-${coverage.to}`;
  }
}

/** Territories as a table: one row for each ground; one for a territory without any, with the cell empty. */
export function territoryTable(territories: readonly Territory[]): Table {
  const rows = territories.flatMap((one) => {
    const { key, name, parent, code, team, manager, colour } = one;
    const own = [key, name, parent ?? '', code ?? '', team ?? '', manager ?? '', colour ?? ''];
    const grounds = groundsOf(one).map(groundText);
    return (grounds.length === 0 ? [''] : grounds).map((ground) => [...own, ground]);
  });
  return { header: TERRITORY_COLUMNS, rows };
}

export type TerritoriesReading =
  | { readonly ok: true; readonly territories: readonly Territory[] }
  | { readonly ok: false; readonly problems: readonly CsvProblem[] };

/**
 * Reads territories from a table: rows of one key are one territory, in the order in which they first stand. Of what a territory is
 * called and by whom it is worked its first row tells; later rows may leave that empty.
 *
 * @param own the admin's regions and spellings
 * @returns everything that is wrong, by row; whether teams and people exist is checked with the charter
 */
export function territoriesFromTable({ header, rows }: Table, own: OwnPlaces = {}): TerritoriesReading {
  const missing = (['key', 'name', 'ground'] as const).filter((column) => !header.includes(column));
  if (missing.length > 0)
    return { ok: false, problems: [{ row: 0, message: `The column ${missing.join(' and ')} is missing` }] };
  const problems: CsvProblem[] = [];
  const byKey = new Map<string, Territory>();
  rows.forEach((cells, i) => {
    const say = (message: string): void => void problems.push({ row: i + 1, message });
    const cell = (column: Column): string => cells[header.indexOf(column)]?.trim() ?? '';
    const key = cell('key');
    const known = byKey.get(key);
    const first = known ?? territoryFrom(cell, say);
    if (known !== undefined) checkSame(known, cell, say);
    byKey.set(key, withGround(first, cell('ground'), own, say));
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, territories: [...byKey.values()] };
}

function territoryFrom(cell: (column: Column) => string, say: (message: string) => void): Territory {
  if (cell('key') === '') say('The key is missing');
  if (cell('name') === '') say('The name is missing');
  const written = cell('colour');
  const colour = TERRITORY_COLOURS.find((one) => one === written) ?? null;
  if (written !== '' && colour === null) say(`Is no colour: ${written}; they are ${TERRITORY_COLOURS.join(', ')}`);
  const keyIn = (column: Column): never | null => (cell(column) === '' ? null : (cell(column) as never));
  return {
    ...{ key: cell('key') as never, name: cell('name'), parent: keyIn('inside') },
    ...{ code: cell('code') || null, team: keyIn('team'), manager: keyIn('manager'), colour },
    ...{ countries: [], regions: [], postalCodes: [] },
  };
}

/** A later row says nothing else of a territory than its first. */
function checkSame(known: Territory, cell: (column: Column) => string, say: (message: string) => void): void {
  const first: Readonly<Record<Exclude<Column, 'key' | 'ground'>, string | null>> = {
    ...{ name: known.name, inside: known.parent, code: known.code },
    ...{ team: known.team, manager: known.manager, colour: known.colour },
  };
  for (const [column, value] of Object.entries(first)) {
    const written = cell(column as Column);
    if (written !== '' && written !== (value ?? '')) say(`Says another ${column} of ${known.key} than its first row`);
  }
}

function withGround(territory: Territory, text: string, own: OwnPlaces, say: (message: string) => void): Territory {
  if (text === '') return territory;
  let { countries, regions, postalCodes } = territory;
  for (const { written, ground } of readGrounds(text, own))
    switch (ground?.kind) {
      case undefined:
        say(`Is not recognised: ${written}`);
        break;
      case 'country':
        countries = [...countries, ground.country];
        break;
      case 'region':
        regions = [...regions, ground.region];
        break;
      case 'postal':
        postalCodes = [...postalCodes, ground.coverage];
    }
  return { ...territory, countries, regions, postalCodes };
}
