import type { Accepted, Reasoning } from '@relvik/contracts';
import type { Charter, Route } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { followTies } from '../job/tie-changes';
import { LeadEntity } from '../store/entity/lead.entity';
import { readPopulation } from '../population/read-population';
import { KeptLeads } from '../population/kept-leads';

let server: SmallServer;
let admin: Agent;
afterEach(() => server.stop());

const KEPT = {
  ...{ key: 'kept', name: 'Customers', on: true, when: { test: 'all', of: [] } },
  ...{ to: { kind: 'company-owner' }, nobodyFree: { kind: 'next-route' } },
} as unknown as Route;

let brought = 0;
const bring = async (): Promise<number> => {
  server.now = new Date(server.now.getTime() + 60_000);
  const email = `p${(brought += 1)}@owned.example`;
  const values = { email, industry: 'Brewery', country: 'DE', company: 'Owned Works' };
  return ((await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted).id;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const reasoningOf = async (id: number) => (await admin.get(`/api/leads/${id}/reasoning`).expect(200)).body as Reasoning;

test('leads of a company go to its owner, whoever that is by then; the reasoning says since when; the population knows', async () => {
  server = await SmallServer.start((charter: Charter) => ({
    ...charter,
    streams: charter.streams.map((stream) => ({
      ...stream,
      again: ['tie-changed'],
      routes: [KEPT, ...stream.routes],
    })),
  }));
  admin = await server.as('admin');
  const first = await bring();
  expect(await leadOf(first)).toMatchObject({ place: 'queue', route: 'centre' });
  const { companyId } = await leadOf(first);
  const own = (owner: string | null) =>
    admin
      .post(`/api/companies/${companyId ?? 0}/owner`)
      .send({ owner })
      .expect(200);
  const kept = new KeptLeads(server.source);
  const owners = async () => {
    const column = (await readPopulation(server.source, server.now)).population.columns.get('company.owner');
    const later = (await kept.bring(server.now)).population.columns.get('company.owner');
    expect(later).toEqual(column);
    return column?.kind === 'codes' ? [...column.codes].map((code) => column.dictionary[code - 1] ?? null) : null;
  };
  expect(await owners()).toEqual([null]);

  await own('dee');
  const since = server.now.getTime();
  const second = await bring();
  expect(await leadOf(second)).toMatchObject({ owner: 'dee', route: 'kept' });
  const reasoning = await reasoningOf(second);
  expect(reasoning.companyOwner).toEqual({ rep: 'dee', since });
  expect(reasoning.then.decision.routing?.match).toMatchObject({ asOwner: true, to: { kind: 'rep', rep: 'dee' } });
  expect(await owners()).toEqual(['dee', 'dee']);

  // The one that a route had given away before follows, since the stream asks again when the company changes.
  await followTies(server.source, server.now);
  expect(await leadOf(first)).toMatchObject({ owner: 'dee', route: 'kept' });
  await own('bo');
  await followTies(server.source, server.now);
  expect([(await leadOf(first)).owner, (await leadOf(second)).owner]).toEqual(['bo', 'bo']);
  await own(null);
  await followTies(server.source, server.now);
  expect((await leadOf(first)).owner).toBe(null);
  expect(await owners()).toEqual([null, null]);
});
