import {
  type AnyRecord,
  type Catalogue,
  encodePopulation,
  type Population,
  readAcrossTies,
  replaceRecords,
  type Value,
} from '@relvik/core';
import type { DataSource, EntityManager, QueryRunner } from 'typeorm';
import { readFields } from '../store/governing';
import { loadLeads, withTiedValues } from '../store/load-leads';
import { changedSince, type Marks, readMarks } from './changed-leads';
import { pastCharters, type ReadPopulation, readLeads, withheldOf } from './read-population';
import { inSnapshot, RESCORED, type Snapshot } from './snapshot';

/** All leads are read again if more changed than this number and this share of them. */
const FEW = 1000;
const PART = 0.05;

interface Kept extends ReadPopulation {
  readonly marks: Marks;
  /** What of the fields says which columns there are, as JSON: if it changes, all columns do. */
  readonly terms: string;
  /** How far rescores had come. */
  readonly rescored: string;
}

/** The leads by columns, kept between questions: of what changed since, only that is read. */
export class KeptLeads {
  private kept: Kept | null = null;

  constructor(private readonly source: DataSource) {}

  /** All leads as they are now, without what tells who they are. The same population as before, where nothing changed. */
  bring(now: Date): Promise<ReadPopulation> {
    return inSnapshot(this.source, async (snapshot) => {
      this.kept = await this.upToDate(snapshot, now);
      const { population, meta } = this.kept;
      const past = await pastCharters((snapshot.runners[0] as QueryRunner).manager, population);
      return { population, meta: { ...meta, past, asOf: now.getTime() } };
    });
  }

  private async upToDate(snapshot: Snapshot, now: Date): Promise<Kept> {
    const [runner] = snapshot.runners as [QueryRunner];
    const { manager } = runner;
    const terms = await termsOf(manager);
    const [{ rescored }] = (await runner.query(`SELECT (${RESCORED}) AS rescored`)) as [{ rescored: string }];
    const marks = await readMarks(runner);
    const { kept } = this;
    const most = Math.max(FEW, (kept?.population.size ?? 0) * PART);
    const logged = kept?.terms === terms ? await changedSince(runner, kept.marks, most) : null;
    const changed = logged && (await withTied(runner, logged, most));
    const anew = async (): Promise<Kept> => ({
      ...(await readLeads(snapshot, now, withheldOf)),
      ...{ marks, terms, rescored },
    });
    if (kept === null || changed === null) return anew();
    const meta = { ...kept.meta, version: snapshot.version };
    // On the other connection, while the changed ones are read and put in.
    const idsRead = idsStored(snapshot.runners.at(-1) as QueryRunner);
    const population =
      changed.size === 0
        ? kept.population
        : await Promise.all([encoded(manager, [...changed]), idsRead]).then(([part]) =>
            replaceRecords(kept.population, changed, part),
          );
    // A join moves all rows of the younger lead to the older, so no log names the younger.
    if ((await idsRead) !== idsOf(population)) return anew();
    const governed = rescored === kept.rescored ? population : await withCharters(runner, population);
    return { population: governed, meta, marks, terms, rescored };
  }
}

/** With the leads whose contact or company changed; null if there are more than `most`. */
async function withTied(runner: QueryRunner, changed: ReadonlySet<number>, most: number): Promise<Set<number> | null> {
  if (changed.size === 0) return new Set();
  const ids = [...changed];
  const tied = (await runner.query(
    'SELECT id FROM `lead` WHERE contact IN (?) UNION SELECT id FROM `lead` WHERE company_id IN (?) LIMIT ?',
    [ids, ids, most + 1],
  )) as { id: number }[];
  const all = new Set([...changed, ...tied.map(({ id }) => id)]);
  return all.size > most ? null : all;
}

/** With the charters that govern the leads as they are now. */
async function withCharters(runner: QueryRunner, population: Population): Promise<Population> {
  const rows = (await runner.query('SELECT charter FROM `lead` ORDER BY id')) as { charter: number }[];
  const charter = Uint32Array.from(rows, (row) => row.charter);
  return { ...population, standing: { ...population.standing, charter } };
}

/** A fingerprint of the stored ids: count, sum and parity. */
async function idsStored(runner: QueryRunner): Promise<string> {
  const [row] = (await runner.query(
    "SELECT CONCAT_WS(' ', COUNT(*), COALESCE(SUM(id), 0), BIT_XOR(id)) AS ids FROM `lead`",
  )) as [{ ids: string }];
  return row.ids;
}

function idsOf({ ids }: Population): string {
  let [sum, parity] = [0, 0];
  for (const id of ids) [sum, parity] = [sum + id, parity ^ id];
  return `${ids.length} ${sum} ${parity >>> 0}`;
}

async function termsOf(manager: EntityManager): Promise<string> {
  const fields = [...(await readFields(manager)).values()];
  return JSON.stringify(fields.map(({ key, type, personal }) => [key, type, personal]));
}

/** Encodes some leads with the same columns as {@link readLeads}. */
async function encoded(manager: EntityManager, ids: readonly number[]): Promise<Population> {
  const fields = await readFields(manager);
  const tied = readAcrossTies(fields.keys(), 'lead');
  const leads = await withTiedValues(manager, await loadLeads(manager, ids, 'none'), tied);
  const sent: Catalogue = new Map([...fields].filter(([, field]) => withheldOf(field) !== 'all'));
  return encodePopulation(
    leads.map(({ record, entity }) => ({
      record: withDomainsOnly(record, sent),
      closed: entity.closedAt?.getTime() ?? null,
      touched: entity.touchedAt.getTime(),
      charter: entity.charter,
    })),
    sent,
  );
}

function withDomainsOnly(record: AnyRecord, fields: Catalogue): AnyRecord {
  const shortened = ([key, value]: readonly [string, Value]): [string, Value] => {
    const field = fields.get(key);
    if (value.kind !== 'text' || field === undefined || withheldOf(field) === null) return [key, value];
    const domain = value.folded.slice(value.folded.lastIndexOf('@'));
    return [key, { kind: 'text', text: domain, folded: domain }];
  };
  const all = (values: ReadonlyMap<string, Value>): Map<string, Value> => new Map([...values].map(shortened));
  return { ...record, values: all(record.values), tied: all(record.tied ?? new Map()) };
}
