import { type LeadName, leadNamesSchema, populationLookupsSchema, type PopulationPlace } from '@relvik/contracts';
import { Readable } from 'node:stream';
import { type DataSource, In } from 'typeorm';
import { ADMIN, bytes, type Endpoint, endpoint, json } from '../http/endpoint';
import { lookUp } from '../population/look-up';
import type { PopulationDesk } from '../population/population-desk';
import { hasMoreThan } from '../population/read-population';
import { populationVersion } from '../population/snapshot';
import { worldDocument } from '../population/world-document';
import { LeadEntity } from '../store/entity/lead.entity';
import { deskEndpoints, LONG } from './desk-endpoints';

/** What the browser needs to answer while the admin types. */
export function populationEndpoints(source: DataSource, desk: PopulationDesk, browserRecords: number): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/population',
      who: ADMIN,
      patience: LONG,
      answer: bytes('application/vnd.apache.arrow.stream'),
      call: async () => Readable.from([await desk.asArrow()], { objectMode: false }),
    }),
    endpoint({
      method: 'get',
      path: '/api/population/version',
      who: ADMIN,
      answer: json<PopulationPlace>(),
      async call() {
        const [version, tooMany] = [await populationVersion(source), await hasMoreThan(manager, browserRecords)];
        return { version, place: tooMany ? 'server' : 'browser' };
      },
    }),
    ...deskEndpoints('/api/population', desk),
    endpoint({
      method: 'post',
      path: '/api/population/lookups',
      who: ADMIN,
      body: populationLookupsSchema,
      answer: json<Awaited<ReturnType<typeof lookUp>>>(),
      call: ({ body, now }) => lookUp(manager, body.lookups, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/world',
      who: ADMIN,
      answer: json<Awaited<ReturnType<typeof worldDocument>>>(),
      call: () => worldDocument(manager),
    }),
    endpoint({
      method: 'get',
      path: '/api/lead-names',
      who: ADMIN,
      query: leadNamesSchema,
      answer: json<readonly LeadName[]>(),
      async call({ query }) {
        const leads = await manager.find(LeadEntity, {
          select: { id: true, name: true, company: true },
          where: { id: In(query.ids.split(',').map(Number)) },
        });
        return leads.map(({ id, name, company }) => ({ id, name, company }));
      },
    }),
  ];
}
