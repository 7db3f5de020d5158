import { type RepKey, type RouteKey, showRate, type WorldDocument } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { readFields, readKinds, readRates } from '../store/governing';
import { RepLoadEntity, RotaEntity } from '../store/entity/people.entity';
import { readOrganisation } from '../store/organisation';

/** Fields, people, rates, loads and turns as they are: what a draft is held against. */
export async function worldDocument(manager: EntityManager): Promise<WorldDocument> {
  const [fields, kinds, { reps, teams, queues, skills, holidays }, rates, loads, turns] = await Promise.all([
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
    skills: [...(skills?.values() ?? [])],
    holidays: [...(holidays ?? [])].map(([place, days]) => ({ place, days })),
    loads: loads.flatMap(({ rep, open, lastGiven }) =>
      reps.has(rep as RepKey)
        ? [
            {
              ...{ rep: rep as RepKey, open: Math.max(0, open) },
              ...(lastGiven === null ? {} : { last: Number(lastGiven) }),
            },
          ]
        : [],
    ),
    turns: turns.flatMap(({ route, lastServed, order, credits }) =>
      lastServed && order
        ? [{ ...{ route: route as RouteKey, lastServed, order }, ...(credits === null ? {} : { credits }) }]
        : [],
    ),
  };
}
