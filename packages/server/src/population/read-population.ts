import {
  CodeBuilder,
  type Column,
  COMPANY_OWNER,
  type Field,
  hasBit,
  kindOfField,
  type PastCharter,
  type Population,
  readableFields,
  type RecordKind,
  type Withheld,
} from '@relvik/core';
import type { PopulationMeta } from '@relvik/formats';
import { type DataSource, type EntityManager, In, type QueryRunner } from 'typeorm';
import { CharterEntity } from '../store/entity/charter.entity';
import { charterInForce, readFields } from '../store/governing';
import { ActivityReader, STRETCH } from './activity-reader';
import { ColumnReader } from './column-reader';
import { type Holders, Places, TiedPlaces } from './places';
import { inSnapshot, shareOut, type Snapshot } from './snapshot';
import { type MovingColumns, standingOf } from './standing';

/** The part of a field that stays on the server, since it identifies a person; null: nothing. */
export function withheldOf({ personal, type }: Field): Withheld | null {
  if (personal !== true) return null;
  return type === 'email' ? 'all but the domain' : 'all';
}

/** Whether there are more leads than so many; those beyond aren't counted. */
export async function hasMoreThan(manager: EntityManager, most: number): Promise<boolean> {
  const rows = await manager.query<unknown[]>('SELECT 1 FROM `lead` LIMIT 1 OFFSET ?', [most]);
  return rows.length > 0;
}

export interface ReadPopulation {
  readonly population: Population;
  readonly meta: PopulationMeta;
}

/** All leads by columns, as they are at one moment, without what tells who they are. */
export function readPopulation(source: DataSource, now: Date): Promise<ReadPopulation> {
  return inSnapshot(source, (snapshot) => readLeads(snapshot, now, withheldOf));
}

/** The places of the records that read a value: for a field of a lead the lead, for one of a contact or company all leads tied to it. */
function holdersOf(
  leadsRead: Promise<readonly MovingColumns[]>,
  placesRead: Promise<Places>,
): (kind: RecordKind) => Promise<Holders> {
  const made = new Map<RecordKind, Promise<Holders>>();
  const tied = async (of: 'contact' | 'company_id'): Promise<Holders> =>
    new TiedPlaces(Uint32Array.from(await leadsRead, (lead) => lead[of] ?? 0));
  return (kind) => {
    const known = made.get(kind);
    if (known !== undefined) return known;
    const holders =
      kind === 'contact' ? tied('contact') : kind === 'company' ? tied('company_id') : (placesRead as Promise<Holders>);
    made.set(kind, holders);
    return holders;
  };
}

/** All leads by columns, as a snapshot sees them, without what is withheld. */
export async function readLeads(
  snapshot: Snapshot,
  now: Date,
  withholds: (field: Field) => Withheld | null,
): Promise<ReadPopulation> {
  const [first] = snapshot.runners as [QueryRunner];
  const fields = await readFields(first.manager);
  const [row] = (await first.query('SELECT COALESCE(MAX(id), 0) AS last FROM `lead`')) as [{ last: string | number }];
  // Begun, and not waited for: the other connection reads meanwhile, and this one does when it is through.
  const leadsRead = first.query(
    'SELECT id, arrived, closed_at, touched_at, status, stage, stage_since, way, place, owner, queue, pin, came_into, looks, charter, contact, company_id, open_deals FROM `lead` ORDER BY id',
  ) as Promise<MovingColumns[]>;
  const placesRead = leadsRead.then((leads) => new Places(Uint32Array.from(leads, (lead) => Number(lead.id))));
  const activities = new ActivityReader(placesRead);
  const read = new Map<string, Column>();
  const withheld = new Map<string, Withheld>();
  for (const field of readableFields(fields, 'lead').values()) {
    const kept = withholds(field);
    if (kept !== null) withheld.set(field.key, kept);
  }
  const readable = [...readableFields(fields, 'lead').values()];
  const sent = readable.filter((field) => withheld.get(field.key) !== 'all');
  const holders = holdersOf(leadsRead, placesRead);
  const stretches = Array.from({ length: Math.ceil(Number(row.last) / STRETCH) }, (_, s) => s * STRETCH);
  const [leads, places, owners] = await Promise.all([
    leadsRead,
    placesRead,
    holders('company').then((companies) => readCompanyOwners(companies, first)),
    shareOut(snapshot, [
      ...stretches.map((after) => (runner: QueryRunner) => activities.read(after, runner)),
      ...sent.map((field) => async (runner: QueryRunner) => {
        const reader = new ColumnReader(await holders(kindOfField(field.key)));
        read.set(field.key, await reader.column(field, withheld.get(field.key) ?? null, runner));
      }),
    ]),
  ]);
  const population: Population = {
    kind: 'lead',
    size: leads.length,
    ids: places.ids,
    ...standingOf(leads),
    columns: new Map(sent.map(({ key }) => [key, read.get(key) as Column])).set(COMPANY_OWNER, owners),
    events: activities.events(places.size),
    withheld,
    given: new Map(),
  };
  const past = await pastCharters(first.manager, population);
  return { population, meta: { asOf: now.getTime(), version: snapshot.version, past } };
}

/** For each lead the owner of its company. */
async function readCompanyOwners(leadsOf: Holders, runner: QueryRunner): Promise<Column> {
  const rows = (await runner.query('SELECT id, owner FROM company WHERE owner IS NOT NULL ORDER BY id')) as {
    id: number;
    owner: string;
  }[];
  const column = new CodeBuilder(leadsOf.size);
  for (const { id, owner } of rows)
    leadsOf.visit(id, (place) => {
      column.add(place, owner);
    });
  return column.build();
}

/** The charters that were in force and still govern open leads, by number. */
export async function pastCharters(manager: EntityManager, { size, standing }: Population): Promise<PastCharter[]> {
  const inForce = await charterInForce(manager, 'none');
  const numbers = new Set<number>();
  for (let i = 0; i < size; i += 1) if (hasBit(standing.open, i)) numbers.add(standing.charter[i] as number);
  numbers.delete(inForce.number ?? 0);
  if (numbers.size === 0) return [];
  const found = await manager.find(CharterEntity, { where: { number: In([...numbers]) }, order: { number: 'ASC' } });
  return found.map(({ number, body }) => ({ number: number ?? 0, charter: body }));
}
