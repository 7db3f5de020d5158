import { companyPopulation, type Found, type Lookup } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { lookUp } from './look-up';
import { Places } from './places';
import type { DeskSubject } from './population-desk';
import { readLeads } from './read-population';
import { inSnapshot, type Snapshot } from './snapshot';

/** All companies by columns, put together from their leads. They stay on the server, so nothing is withheld. */
export class CompanySubject implements DeskSubject {
  /** The leads as they were read last, and the company of each; 0: of none. */
  private places = new Places(new Uint32Array());
  private companyOf: Uint32Array = new Uint32Array();

  constructor(private readonly source: DataSource) {}

  async read(now: Date): ReturnType<DeskSubject['read']> {
    const { leads, meta } = await inSnapshot(this.source, async (snapshot) => {
      const { population, meta } = await readLeads(snapshot, now, () => null);
      this.places = new Places(population.ids);
      this.companyOf = await companiesIn(snapshot, this.places);
      return { leads: population, meta };
    });
    const population = companyPopulation(leads, this.companyOf);
    return { population, state: { asOf: meta.asOf, version: meta.version, size: population.size }, past: [] };
  }

  asArrow(): Promise<Uint8Array> {
    return Promise.reject(Refused.notFound());
  }

  /** What their people did with certain properties. */
  async lookUp(lookups: readonly Lookup[], now: Date): Promise<Found[]> {
    const found = await lookUp(this.source.manager, lookups, now);
    return found.flatMap((one): Found[] => {
      if (one.of === 'test') return [];
      const companies = one.ids.map((id) => this.companyOf[this.places.of(id)] ?? 0);
      const known = companies.map((id, i) => ({ id, at: one.at[i] as number })).filter(({ id }) => id !== 0);
      return [{ ...one, ids: known.map(({ id }) => id), at: known.map(({ at }) => at) }];
    });
  }
}

/** For each lead the id of its company; 0: it has none. */
async function companiesIn({ runners }: Snapshot, places: Places): Promise<Uint32Array> {
  const [runner] = runners;
  const rows = (await runner?.query(
    'SELECT lead.id, company.id AS company FROM `lead` JOIN company ON company.folded = lead.company_key',
  )) as { id: string | number; company: string | number }[];
  const companyOf = new Uint32Array(places.size);
  for (const { id, company } of rows) companyOf[places.of(Number(id))] = Number(company);
  return companyOf;
}
