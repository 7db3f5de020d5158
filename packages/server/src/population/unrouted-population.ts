import {
  CodeColumn,
  type Column,
  type Found,
  kindOfField,
  type Lookup,
  type PastCharter,
  type Population,
  readableFields,
  type TieKind,
  type UnroutedKind,
} from '@relvik/core';
import type { DataSource, QueryRunner } from 'typeorm';
import { Refused } from '../problem/refused';
import { readFields } from '../store/governing';
import { BELOW } from '../store/unrouted-kinds';
import { ActivityReader, type PlaceOf, STRETCH } from './activity-reader';
import { ColumnReader } from './column-reader';
import { lookUp } from './look-up';
import { type Holders, Places, TiedPlaces } from './places';
import type { DeskSubject } from './population-desk';
import { pastCharters } from './read-population';
import { type MovingColumns, standingOf } from './standing';
import { inSnapshot, shareOut, type Snapshot } from './snapshot';

/** The columns read of every contact, company or deal; but for ids and times those of contacts and companies are empty. */
interface Row extends Omit<MovingColumns, 'company_id'> {
  readonly company: number | null;
}

/** Constants for contacts and companies in place of the columns that only deals have. */
const NO_STANDING =
  "NULL AS closed_at, 'open' AS status, '' AS stage, arrived AS stage_since, NULL AS came_into, '{}' AS looks, 0 AS charter";
const DEAL_STANDING = 'closed_at, status, stage, stage_since, came_into, looks, COALESCE(charter, 0) AS charter';

/** All contacts, companies or deals by columns. They stay on the server, so nothing is withheld. */
export class UnroutedSubject implements DeskSubject {
  /** The records as they were read last, and for which of them the activities of others count. */
  private ids: Uint32Array = new Uint32Array();
  private counting: PlaceOf = new Places(new Uint32Array());

  constructor(
    private readonly source: DataSource,
    private readonly kind: UnroutedKind,
  ) {}

  async read(now: Date): ReturnType<DeskSubject['read']> {
    const { population, version, counting, past } = await inSnapshot(this.source, (snapshot) =>
      readAll(snapshot, this.kind),
    );
    this.ids = population.ids;
    this.counting = counting;
    return { population, state: { asOf: now.getTime(), version, size: population.size }, past };
  }

  asArrow(): Promise<Uint8Array> {
    return Promise.reject(Refused.notFound());
  }

  /** Activities with certain properties, of the records and of those below them. */
  async lookUp(lookups: readonly Lookup[], now: Date): Promise<Found[]> {
    const found = await lookUp(this.source.manager, lookups, now);
    return found.flatMap((one): Found[] => {
      if (one.of === 'test') return [];
      const known = one.ids.flatMap((record, i) => {
        const place = this.counting.of(record);
        return place < 0 ? [] : [{ id: this.ids[place] as number, at: one.at[i] as number }];
      });
      return [{ ...one, ids: known.map(({ id }) => id), at: known.map(({ at }) => at) }];
    });
  }
}

async function readAll(
  snapshot: Snapshot,
  kind: UnroutedKind,
): Promise<{
  readonly population: Population;
  readonly version: string;
  readonly counting: PlaceOf;
  readonly past: readonly PastCharter[];
}> {
  const [runner] = snapshot.runners as [QueryRunner];
  const tie = (column: TieKind): string =>
    kind === 'deal' || (kind === 'contact' && column === 'company') ? column : `NULL AS ${column}`;
  const standing = kind === 'deal' ? DEAL_STANDING : NO_STANDING;
  const rows = (await runner.query(
    `SELECT id, arrived, touched_at, ${standing}, '' AS way, owner, IF(owner IS NULL, 'not-handed-over', 'owner') AS place,
       NULL AS queue, NULL AS pin, 0 AS open_deals, ${tie('contact')}, ${tie('company')} FROM ${kind} ORDER BY id`,
  )) as Row[];
  const places = new Places(Uint32Array.from(rows, ({ id }) => Number(id)));
  const counting = await countingFor(runner, kind, places);
  const fields = [...readableFields(await readFields(runner.manager), kind).values()];
  const columns = new Map<string, Column>();
  const activities = new ActivityReader(Promise.resolve(counting));
  const [last] = (await runner.query('SELECT COALESCE(MAX(id), 0) AS id FROM record')) as [{ id: string | number }];
  const stretches = Array.from({ length: Math.ceil(Number(last.id) / STRETCH) }, (_, s) => s * STRETCH);
  const holders = (of: string): Holders =>
    of === 'contact' || of === 'company' ? new TiedPlaces(Uint32Array.from(rows, (row) => row[of] ?? 0)) : places;
  await shareOut(snapshot, [
    ...stretches.map((after) => (some: QueryRunner) => activities.read(after, some)),
    ...fields.map((field) => async (some: QueryRunner) => {
      const of = kindOfField(field.key);
      const reader = new ColumnReader(of === kind ? places : holders(of));
      columns.set(field.key, await reader.column(field, null, some));
    }),
  ]);
  const population = laidOut(kind, rows, places, columns, activities.events(places.size));
  return { population, version: snapshot.version, counting, past: await pastCharters(runner.manager, population) };
}

/** For which record of a kind an activity counts: the one that did it, and the one above it. */
async function countingFor(runner: QueryRunner, kind: UnroutedKind, places: Places): Promise<PlaceOf> {
  const above = new Map<number, number>();
  for (const [table, column] of BELOW[kind]) {
    const rows = (await runner.query(
      `SELECT id, ${column} AS above FROM \`${table}\` WHERE ${column} IS NOT NULL`,
    )) as { id: string | number; above: string | number }[];
    for (const { id, above: of } of rows) above.set(Number(id), places.of(Number(of)));
  }
  return { of: (id) => above.get(id) ?? places.of(id) };
}

function laidOut(
  kind: UnroutedKind,
  rows: readonly Row[],
  { ids, size }: Places,
  columns: Population['columns'],
  events: Population['events'],
): Population {
  return {
    kind,
    size,
    ids,
    ...standingOf(rows),
    // They come in by no way that a condition could ask about.
    way: new CodeColumn(new Uint32Array(size), [], null),
    columns,
    events,
    withheld: new Map(),
    given: new Map(),
  };
}
