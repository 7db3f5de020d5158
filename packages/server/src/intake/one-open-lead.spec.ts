import type { Accepted } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { CHECKS } from '../doctor/checks';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (values: object): Promise<Accepted> =>
  (await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted;
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const faults = async (): Promise<unknown[]> => {
  const own = CHECKS.filter(({ key }) => key === 'open-for' || key === 'two-open');
  return (await Promise.all(own.map(({ sql }) => server.source.query<{ id: number }[]>(sql)))).flat();
};
const contactOf = async (id: number): Promise<number> => (await lead(id)).contact ?? NaN;

test('a person with several e-mails has one open lead: an inquiry by any of them is added to it', async () => {
  const [first, other] = [await bring({ email: 'kari@fjord.example' }), await bring({ email: 'k@home.example' })];
  await admin.post(`/api/leads/${other.id}/close`).send({ outcome: 'lost', reason: 'the same person' }).expect(200);
  const [one, two] = [await contactOf(first.id), await contactOf(other.id)];
  await admin.post(`/api/contacts/${one}/join`).send({ other: two, take: [] }).expect(200);
  expect(await bring({ email: 'K@home.example', employees: '7' })).toMatchObject({ id: first.id, joined: true });
  expect(await faults()).toEqual([]);

  // Taken apart, each has leads of its own again.
  await admin.delete(`/api/contacts/${two}/joined`).expect(200);
  const apart = await bring({ email: 'k@home.example' });
  expect(apart).toMatchObject({ joined: false });
  expect(await contactOf(apart.id)).toBe(two);
  expect(await faults()).toEqual([]);
});

test('two people who turn out to be one keep both open leads; the older is the one to which inquiries are added', async () => {
  const [first, other] = [await bring({ email: 'kari@fjord.example' }), await bring({ email: 'k@home.example' })];
  const [one, two] = [await contactOf(first.id), await contactOf(other.id)];
  await admin.post(`/api/contacts/${one}/join`).send({ other: two, take: [] }).expect(200);
  expect([(await lead(first.id)).openFor, (await lead(other.id)).openFor]).toEqual([one, null]);
  expect(await bring({ email: 'k@home.example' })).toMatchObject({ id: first.id, joined: true });
  // The doctor names them: which of the two goes on is for a person to say.
  expect(await faults()).toEqual([{ id: Math.max(first.id, other.id) }]);
  await admin.delete(`/api/contacts/${two}/joined`).expect(200);
  expect([(await lead(first.id)).openFor, (await lead(other.id)).openFor]).toEqual([one, two]);
  expect(await faults()).toEqual([]);
});

test('of a company that names no person one lead is open; a person there has a lead of their own', async () => {
  const first = await bring({ company: 'Gale Mills', country: 'NO' });
  expect(await bring({ company: 'GALE mills', country: 'NO', employees: '9' })).toMatchObject({
    id: first.id,
    joined: true,
  });
  const person = await bring({ company: 'Gale Mills', country: 'NO', name: 'Ann Brekke' });
  const mailed = await bring({ company: 'Gale Mills', country: 'NO', email: 'ann@gale.example' });
  expect([person.joined, mailed.joined]).toEqual([false, false]);
  expect(new Set([first.id, person.id, mailed.id]).size).toBe(3);
  await admin.post(`/api/leads/${first.id}/close`).send({ outcome: 'lost', reason: 'no need' }).expect(200);
  expect(await bring({ company: 'Gale Mills', country: 'NO' })).toMatchObject({ joined: false });
  expect(await faults()).toEqual([]);
});

test('many inquiries at once of a company that nobody knew leave one lead, and lose nothing', async () => {
  const all = await Promise.all(
    Array.from({ length: 16 }, (_, i) => bring({ company: 'Squall Works', country: 'SE', note: String(i) })),
  );
  expect(new Set(all.map(({ id }) => id)).size).toBe(1);
  expect(all.filter(({ joined }) => !joined)).toHaveLength(1);
  const [said] = await server.source.query<{ count: string }[]>(
    "SELECT COUNT(*) AS count FROM activity WHERE kind = 'form_filled'",
  );
  expect(Number(said?.count)).toBe(15);
  expect(await faults()).toEqual([]);
});
