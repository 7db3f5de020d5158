import type { FoundRecord, LeadDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  await admin
    .post('/api/fields')
    .send({ key: 'phone', name: 'Telephone', type: 'text', options: [], role: 'phone' })
    .expect(201);
});
afterAll(() => server.stop());

const bring = async (values: object): Promise<number> => {
  const answer = await admin.post('/api/leads').send({ values });
  if (answer.status !== 201) throw new Error(JSON.stringify(answer.body));
  return (answer.body as { id: number }).id;
};
const find = async (text: string, as = admin): Promise<FoundRecord[]> =>
  (await as.get('/api/find').query({ text }).expect(200)).body as FoundRecord[];
const kinds = async (text: string, as = admin): Promise<string[]> => (await find(text, as)).map(({ kind }) => kind);

test('a lead is found by the beginning of its telephone number, not by its end', async () => {
  const id = await bring({ name: 'Nils Vik', email: 'nils@vik.example', phone: '+47 555 01 234' });
  await bring({ name: 'Nora Vik', email: 'nora@vik.example' });
  expect((await find('+47 555')).map((one) => [one.kind, one.id])).toEqual([['lead', id]]);
  expect(await find('01 234')).toEqual([]);
});

test('a contact and a company are found by name, e-mail and domain; a company by each of its names', async () => {
  const id = await bring({ name: 'Odd Berg', email: 'odd@bergverk.example', company: 'Bergverk Nord' });
  const { ties } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  const company = { kind: 'company', id: ties.company?.id, name: 'Bergverk Nord' };
  expect(await find('bergverk.ex')).toContainEqual(expect.objectContaining(company));
  expect(await find('odd@berg')).toContainEqual(expect.objectContaining({ kind: 'contact', name: 'Odd Berg' }));
  expect(await find('nord BERGV')).toContainEqual(expect.objectContaining(company));
});

test('a closed lead says how it was closed; reps out of whose sight it is do not find it', async () => {
  const id = await bring({ name: 'Unn Strand', email: 'unn@strand.example', industry: 'Brewery', country: 'NO' });
  await admin.post(`/api/leads/${id}/close`).send({ outcome: 'lost', reason: 'too dear' }).expect(200);
  const [lead] = await find('strand');
  expect(lead).toMatchObject({ kind: 'lead', id, name: 'Unn Strand', beside: 'lost' });
  const { place } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  const owner = place.kind === 'owner' ? place.rep : '';
  expect(await kinds('strand', await server.as(owner))).toContain('lead');
  expect(await kinds('strand', await server.as('dee'))).toEqual([]);
});

test('of each kind at most twelve are shown', async () => {
  for (let n = 0; n < 14; n += 1) await bring({ name: `Grete Lund ${n}`, email: `grete${n}@lund.example` });
  const found = await kinds('grete');
  expect(found.filter((kind) => kind === 'lead')).toHaveLength(12);
  expect(found.filter((kind) => kind === 'contact')).toHaveLength(12);
});

test.each(['%', '_', '\\', '%vik', '+', '-', '"', '@', '*', '( ~'])(
  'a sign with a meaning in SQL is searched for as it is typed: %s',
  async (text) => {
    expect(await find(text)).toEqual(text === '%vik' ? await find('vik') : []);
  },
);
