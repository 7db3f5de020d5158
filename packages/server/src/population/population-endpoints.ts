import {
  deskQuestionSchema,
  type DeskQuestion,
  type LeadNames,
  leadNamesSchema,
  type PopulationLookups,
  populationLookupsSchema,
  type PopulationPlace,
} from '@relvik/contracts';
import { streamPopulation } from '@relvik/formats';
import { type DataSource, In } from 'typeorm';
import { type Endpoint, read, type Who } from '../api/endpoint';
import { LeadEntity } from '../record/lead.entity';
import { lookUp } from './look-up';
import type { PopulationDesk } from './population-desk';
import { hasMoreThan, readPopulation } from './read-population';
import { populationVersion } from './snapshot';
import { worldDocument } from './world-document';

const ADMIN: readonly Who[] = ['admin'];

/** What the browser needs to answer while the admin types. */
export function populationEndpoints(source: DataSource, desk: PopulationDesk, browserRecords: number): Endpoint[] {
  const { manager } = source;
  return [
    {
      method: 'get',
      path: '/api/population',
      who: ADMIN,
      async handle({ now }) {
        const { population, meta } = await readPopulation(source, now);
        return { stream: { type: 'application/vnd.apache.arrow.stream', data: streamPopulation(population, meta) } };
      },
    },
    {
      method: 'get',
      path: '/api/population/version',
      who: ADMIN,
      async handle() {
        const [version, tooMany] = [await populationVersion(source), await hasMoreThan(manager, browserRecords)];
        return { body: { version, place: tooMany ? 'server' : 'browser' } satisfies PopulationPlace };
      },
    },
    {
      method: 'post',
      path: '/api/population/desk',
      who: ADMIN,
      handle: async () => ({ body: await desk.load() }),
    },
    {
      method: 'post',
      path: '/api/population/questions',
      who: ADMIN,
      // Two charters, each as large as a draft may be.
      most: '3mb',
      handle: async (asked) => ({
        body: await desk.ask(await read<DeskQuestion>(deskQuestionSchema, asked.body)),
      }),
    },
    {
      method: 'post',
      path: '/api/population/lookups',
      who: ADMIN,
      async handle(asked) {
        const { lookups } = await read<PopulationLookups>(populationLookupsSchema, asked.body);
        return { body: await lookUp(manager, lookups) };
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
