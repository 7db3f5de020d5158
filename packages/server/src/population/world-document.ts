import { showRate, type WorldDocument } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { readFields, readKinds, readRates } from '../store/governing';
import { RepLoadEntity, RotaEntity } from '../store/entity/people.entity';
import { readOrganisation } from '../store/organisation';

/** Fields, people, rates, loads and turns as they are: what a draft is held against. */
export async function worldDocument(manager: EntityManager): Promise<WorldDocument> {
  const [fields, kinds, { reps, teams, queues }, rates, loads, turns] = await Promise.all([
    readFields(manager),
    readKinds(manager),
    readOrganisation(manager),
    readRates(manager),
    manager.find(RepLoadEntity),
    manager.find(RotaEntity),
  ]);
  return {
    format: 'relvik-world',
    version: 1,
    fields: [...fields.values()],
    kinds,
    reps: [...reps.values()],
    teams: [...teams.values()],
    queues: [...queues.values()],
    referenceCurrency: rates.reference,
    rates: rates.all().map(({ currency, from, micro }) => ({ currency, from, rate: showRate(micro) })),
    loads: loads.flatMap(({ rep, open }) =>
      reps.has(rep as never) ? [{ rep: rep as never, open: Math.max(0, open) }] : [],
    ),
    turns: turns.flatMap(({ route, lastServed, order }) =>
      lastServed && order ? [{ route: route as never, lastServed, order }] : [],
    ),
  };
}
