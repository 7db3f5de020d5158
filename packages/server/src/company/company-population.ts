import {
  type Charter,
  companyCharter,
  encodePopulation,
  type Found,
  hasProperties,
  type LeadRecord,
  type Lookup,
  type Population,
} from '@relvik/core';
import type { DataSource } from 'typeorm';
import { charterInForce, readWorldOutside } from '../charter/charter-store';
import type { DeskSubject } from '../population/population-desk';
import { populationVersion } from '../population/snapshot';
import { CompanyEntity } from './company.entity';
import { loadCompanies } from './company-store';

const BATCH = 500;

/** All companies by columns. It stays on the server, so nothing is withheld from it. */
export class CompanySubject implements DeskSubject {
  private records: readonly LeadRecord[] = [];

  constructor(private readonly source: DataSource) {}

  async read(now: Date): ReturnType<DeskSubject['read']> {
    const { manager } = this.source;
    const version = await populationVersion(this.source);
    const { baseCurrency } = (await charterInForce(manager, 'none')).body;
    const { fields, rates } = await readWorldOutside(manager);
    const companies = await manager.find(CompanyEntity, {
      select: { id: true, folded: true },
      order: { id: 'ASC' },
    });
    const records: LeadRecord[] = [];
    for (let i = 0; i < companies.length; i += BATCH)
      records.push(...(await loadCompanies(manager, companies.slice(i, i + BATCH))).values());
    this.records = records;
    const population: Population = encodePopulation(
      records.map((record) => ({ record, closed: null, touched: record.arrived })),
      fields,
      rates,
      baseCurrency,
    );
    return { population, state: { asOf: now.getTime(), version, size: population.size } };
  }

  governing(charter: Charter): Charter {
    return companyCharter(charter);
  }

  /** Activities that have certain properties, of whichever lead they are. */
  lookUp(lookups: readonly Lookup[]): Promise<Found[]> {
    return Promise.resolve(
      lookups.flatMap((lookup): Found[] => {
        if (lookup.of !== 'activities') return [];
        const { kind, having } = lookup;
        const found = this.records.flatMap((record) =>
          record.activities
            .filter((one) => one.kind === kind && hasProperties(one, having))
            .map(({ at }) => ({ id: Number(record.id), at })),
        );
        return [{ of: 'activities', kind, having, ids: found.map(({ id }) => id), at: found.map(({ at }) => at) }];
      }),
    );
  }
}
