import { type CompanyDetail, type CompanyPage, companyQuerySchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { companyDetail, listCompanies } from '../list/company-list';
import type { PopulationDesk } from '../population/population-desk';
import { sightOf } from '../session/sight';
import { deskEndpoints } from './desk-endpoints';

/** Companies: a list, one of them, and what a draft makes of all. */
export function companyEndpoints(source: DataSource, desk: PopulationDesk): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/companies',
      who: EVERYONE,
      query: companyQuerySchema,
      answer: json<CompanyPage>(),
      call: async ({ caller, query, now }) => listCompanies(manager, await sightOf(manager, caller), query, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/companies/:id',
      who: EVERYONE,
      params: byId,
      answer: json<CompanyDetail>(),
      call: async ({ caller, params, now }) => companyDetail(manager, await sightOf(manager, caller), params.id, now),
    }),
    ...deskEndpoints('/api/companies', desk),
  ];
}
