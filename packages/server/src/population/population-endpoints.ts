import { type LeadNames, leadNamesSchema, type PopulationTests, populationTestsSchema } from '@relvik/contracts';
import { type WorldDocument, showRate } from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { type Endpoint, read, type Who } from '../api/endpoint';
import { readFields } from '../charter/charter-store';
import { RepLoadEntity, RotaEntity } from '../people/people.entity';
import { readOrganisation } from '../people/people-store';
import { RateEntity } from '../record/catalogue.entity';
import { LeadEntity } from '../record/lead.entity';
import { answerTests } from './answer-tests';
import { populationVersion, readPopulation } from './read-population';

const ADMIN: readonly Who[] = ['admin'];

/** Fields, people, rates, loads and turns as they are: what a draft is held against. */
async function worldDocument(manager: EntityManager): Promise<WorldDocument> {
  const [fields, { reps, teams, queues }, rates, loads, turns] = await Promise.all([
    readFields(manager),
    readOrganisation(manager),
    manager.find(RateEntity),
    manager.find(RepLoadEntity),
    manager.find(RotaEntity),
  ]);
  return {
    format: 'relvik-world',
    version: 1,
    fields: [...fields.values()],
    reps: [...reps.values()],
    teams: [...teams.values()],
    queues: [...queues.values()],
    rates: rates.map(({ currency, fromDay, micro }) => ({ currency, from: fromDay, rate: showRate(Number(micro)) })),
    loads: loads.flatMap(({ rep, open }) =>
      reps.has(rep as never) ? [{ rep: rep as never, open: Math.max(0, open) }] : [],
    ),
    turns: turns.flatMap(({ route, lastServed, order }) =>
      lastServed && order ? [{ route: route as never, lastServed, order }] : [],
    ),
  };
}

/** What the browser needs to answer while the admin types. */
export function populationEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    {
      method: 'get',
      path: '/api/population',
      who: ADMIN,
      async handle({ now }) {
        const { population, meta } = await readPopulation(source, now);
        return { bytes: { type: 'application/vnd.apache.arrow.stream', data: populationToArrow(population, meta) } };
      },
    },
    {
      method: 'get',
      path: '/api/population/version',
      who: ADMIN,
      handle: async () => ({ body: { version: await populationVersion(source) } }),
    },
    {
      method: 'post',
      path: '/api/population/tests',
      who: ADMIN,
      async handle(asked) {
        const { tests } = await read<PopulationTests>(populationTestsSchema, asked.body);
        return { body: await answerTests(manager, tests) };
      },
    },
    { method: 'get', path: '/api/world', who: ADMIN, handle: async () => ({ body: await worldDocument(manager) }) },
    {
      method: 'get',
      path: '/api/lead-names',
      who: ADMIN,
      async handle(asked) {
        const { ids } = await read<LeadNames>(leadNamesSchema, asked.query);
        const leads = await manager.find(LeadEntity, {
          select: { id: true, name: true, company: true },
          where: { id: In(ids.split(',').map(Number)) },
        });
        return { body: leads.map(({ id, name, company }) => ({ id, name, company })) };
      },
    },
  ];
}
