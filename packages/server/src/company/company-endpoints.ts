import { type CompanyQuery, companyQuerySchema, type DeskQuestion, deskQuestionSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { sightOf } from '../people/sight';
import type { PopulationDesk } from '../population/population-desk';
import { companyDetail, listCompanies } from './company-list';

const EVERYONE: readonly Who[] = ['admin', 'manager', 'rep'];
const ADMIN: readonly Who[] = ['admin'];

/** Companies: a list, one of them, and what a draft makes of all. */
export function companyEndpoints(source: DataSource, desk: PopulationDesk): Endpoint[] {
  const { manager } = source;
  return [
    {
      method: 'get',
      path: '/api/companies',
      who: EVERYONE,
      async handle(asked) {
        const query = await read<CompanyQuery>(companyQuerySchema, asked.query);
        return { body: await listCompanies(manager, await sightOf(manager, userOf(asked)), query, asked.now) };
      },
    },
    {
      method: 'get',
      path: '/api/companies/:id',
      who: EVERYONE,
      handle: async (asked) => ({
        body: await companyDetail(manager, await sightOf(manager, userOf(asked)), idOf(asked), asked.now),
      }),
    },
    { method: 'post', path: '/api/companies/desk', who: ADMIN, handle: async () => ({ body: await desk.load() }) },
    {
      method: 'post',
      path: '/api/companies/questions',
      who: ADMIN,
      // Two charters, each as large as a draft may be.
      most: '3mb',
      handle: async (asked) => ({ body: await desk.ask(await read<DeskQuestion>(deskQuestionSchema, asked.body)) }),
    },
  ];
}
