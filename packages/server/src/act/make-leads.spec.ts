import type { Accepted, LeadsMade, RecordDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { examine } from '../doctor/examine';
import { SmallServer } from '../fixture/small-server.fixture';
import { withCarePlans } from '../fixture/two-pipelines.fixture';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withCarePlans);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const make = async (kind: 'contacts' | 'companies', ids: number[], agent = admin, pipeline?: string) =>
  (await agent.post(`/api/${kind}/leads`).send({ ids, pipeline }).expect(200)).body as LeadsMade;
const leadOf = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const contact = async (values: object, more: object = {}): Promise<number> =>
  (
    (
      await admin
        .post('/api/contacts')
        .send({ values, ...more })
        .expect(201)
    ).body as RecordDetail
  ).id;
const company = async (name: string): Promise<number> =>
  (
    (
      await admin
        .post('/api/companies')
        .send({ values: { 'company.name': name } })
        .expect(201)
    ).body as RecordDetail
  ).id;

test('a lead of each contact has what is known of it and of its company, its owner, and goes through gates and routes', async () => {
  const firm = await company('Fjord Brygg');
  await admin.post(`/api/companies/${firm}/owner`).send({ owner: 'dee' }).expect(200);
  const [kari, ola] = [
    await contact(
      { 'contact.name': 'Kari Nes', 'contact.email': 'kari@fjord.example' },
      { company: firm, owner: 'ada' },
    ),
    await contact({ 'contact.name': 'Ola Berg', 'contact.email': 'ola@berg.example' }, { owner: 'bo' }),
  ];
  const gone = { mayTakeLeads: false, whyNot: 'on leave', limit: null };
  await admin.patch('/api/people/bo').send(gone).expect(200);
  const made = await make('contacts', [kari, ola, kari, 4_000_000]);
  expect(made.leads.map(({ of, wasOpen }) => [of, wasOpen])).toEqual([
    [kari, false],
    [ola, false],
  ]);
  expect(made.refused).toEqual([{ id: 4_000_000, why: 'is no contact here' }]);
  const [one, two] = await Promise.all(made.leads.map(({ lead }) => leadOf(lead)));
  expect(one).toMatchObject({ contact: kari, companyId: firm, email: 'kari@fjord.example', owner: 'ada', way: 'hand' });
  // Bo takes no leads any more: the routes choose.
  expect(two).toMatchObject({ contact: ola });
  expect(two?.owner).not.toBe('bo');

  // Once more: it is open already, and nothing of it changes.
  const { version } = await leadOf(one!.id);
  expect((await make('contacts', [kari])).leads).toEqual([{ of: kari, lead: one!.id, wasOpen: true }]);
  expect((await leadOf(one!.id)).version).toBe(version);
  // In another pipeline it is another lead.
  const other = await make('contacts', [kari], admin, 'care');
  expect(other.leads).toMatchObject([{ of: kari, wasOpen: false }]);
  expect(await leadOf(other.leads[0]!.lead)).toMatchObject({ pipeline: 'care', contact: kari });
  expect(await examine(server.source, server.now, false)).toEqual([]);
});

test('a lead of a company names no person; a rep makes them of what they see, and keeps what is theirs', async () => {
  const firm = await company('Mill Works');
  const made = await make('companies', [firm]);
  expect(await leadOf(made.leads[0]!.lead)).toMatchObject({ companyId: firm, contact: null, company: 'Mill Works' });

  const ada = await server.as('ada');
  const values = { email: 'own@ada.example', industry: 'Brewery', country: 'NO', company: 'Own Works' };
  const sent = await admin.post('/api/leads').send({ values, owner: 'ada' }).expect(201);
  const { contact: own } = await leadOf((sent.body as Accepted).id);
  const unseen = await contact({ 'contact.email': 'far@away.example' }, { owner: 'dee' });
  const both = await make('contacts', [own ?? 0, unseen], ada, 'care');
  expect(both.leads).toMatchObject([{ of: own, wasOpen: false }]);
  expect(both.refused).toEqual([{ id: unseen, why: 'is no contact here' }]);
});
