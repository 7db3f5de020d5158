import type { Accepted, CharterState, DoneEach, LeadDetail, LeadPage } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { finishRescores } from '../job/rescore';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  const field = { options: [], personal: false };
  for (const [key, type] of [
    ['state', 'region'],
    ['zip', 'postal-code'],
  ])
    await admin
      .post('/api/fields')
      .send({ ...field, key, name: key, type })
      .expect(201);
  await enact(withSouth);
});
afterEach(() => server.stop());

/** D-A-CH with a territory inside it: Bavaria, and some postal codes beyond. */
function withSouth({ territories, ...charter }: Charter): Charter {
  const south = { key: 'south', name: 'South', parent: 'dach', countries: [], regions: ['DE-BY'] };
  const codes = [{ kind: 'range', country: 'DE', from: '87000', to: '89999' }];
  const list = [...territories.list, { ...south, postalCodes: codes }] as Charter['territories']['list'];
  return { ...charter, territories: { ...territories, regionField: 'state', postalField: 'zip', list } };
}
async function enact(change: (charter: Charter) => Charter): Promise<void> {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Regions' })).body as CharterState;
  const sent = { version: draft!.version, charter: change(draft!.charter) };
  const { version } = ((await admin.put(`/api/drafts/${draft!.id}`).send(sent).expect(200)).body as CharterState)
    .draft!;
  await admin.post(`/api/drafts/${draft!.id}/enact`).send({ version, reason: 'so' }).expect(202);
  await finishRescores(server.source, () => server.now);
}

let people = 0;
const bring = async (values: object) => {
  const email = `p${(people += 1)}@place.example`;
  return (
    await admin
      .post('/api/leads')
      .send({ values: { email, industry: 'Brewery', ...values } })
      .expect(201)
  ).body as Accepted;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const shown = async (id: number): Promise<Record<string, string>> =>
  Object.fromEntries(
    ((await admin.get(`/api/leads/${id}`)).body as LeadDetail).values.map((one) => [one.field, one.shown]),
  );
const edit = async (id: number, values: object): Promise<void> => {
  const { version } = await leadOf(id);
  await admin.patch(`/api/leads/${id}`).send({ version, values }).expect(200);
};

test('regions and postal codes are read by the country beside them, and tell the territory', async () => {
  const { id, warnings } = await bring({ country: 'Allemagne', state: 'bavaria', zip: ' 80331 ' });
  expect(warnings).toEqual([]);
  expect(await shown(id)).toMatchObject({ country: 'DE', state: 'DE-BY', zip: '80331' });
  expect((await leadOf(id)).territory).toBe('south');
  const swabia = await bring({ country: 'DE', state: 'BW', zip: '89073' });
  expect((await leadOf(swabia.id)).territory).toBe('south');
  expect((await leadOf((await bring({ country: 'DE', state: 'BW', zip: '70173' })).id)).territory).toBe('dach');
  // The same letters are another region elsewhere.
  const canada = await bring({ country: 'US', state: 'CA', zip: '94105-1234' });
  expect(await shown(canada.id)).toMatchObject({ state: 'US-CA', zip: '94105' });
});

test('the territory follows the address at once, and the owner stays', async () => {
  const { id } = await bring({ country: 'DE', state: 'Bayern' });
  const before = await leadOf(id);
  await edit(id, { state: 'Hessen' });
  expect(await leadOf(id)).toMatchObject({ territory: 'dach', owner: before.owner });
  await edit(id, { zip: '88131' });
  expect((await leadOf(id)).territory).toBe('south');
  // A region of a country where it no longer is tells nothing.
  await edit(id, { country: 'AT', zip: '' });
  expect((await leadOf(id)).territory).toBe('dach');
});

test('what is not recognised is kept, named, and waits for a person where a route asks for the territory; corrected, it goes', async () => {
  const { id, warnings } = await bring({ country: 'DE', state: 'Baveria' });
  expect(warnings).toEqual([{ field: 'state', raw: 'Baveria', why: 'is not a region of Germany' }]);
  expect(await leadOf(id)).toMatchObject({ place: 'bay', bay: { why: 'unjudged', fields: ['state'] } });
  await edit(id, { state: 'Bavaria' });
  expect(await leadOf(id)).toMatchObject({ territory: 'south' });
  expect((await leadOf(id)).place).not.toBe('bay');
  // Where no territory asks for regions it does no harm.
  const norway = await bring({ country: 'NO', state: 'the west' });
  expect(await leadOf(norway.id)).toMatchObject({ territory: 'nordics', place: 'owner' });
});

test('lists find them by region, whatever it was called; a file brings them', async () => {
  await bring({ country: 'DE', state: 'Bayern' });
  await server.importFile(
    admin,
    'email,country,state,zip\r\na@file.example,Germany,BY,80331\r\nb@file.example,US,CA,1\r\n',
  );
  const found = async (when: object): Promise<number> =>
    (
      (
        await admin
          .get('/api/leads')
          .query({ when: JSON.stringify(when) })
          .expect(200)
      ).body as LeadPage
    ).rows.length;
  const state = { test: 'one-of', subject: { kind: 'field', field: 'state' } };
  expect(await found({ ...state, values: ['Bavaria'] })).toBe(2);
  expect(await found({ ...state, values: ['US-CA'] })).toBe(1);
  expect(await found({ test: 'starts-with', subject: { kind: 'field', field: 'zip' }, values: ['803'] })).toBe(1);
});

test('a field for regions is needed before a charter that covers some comes into force', async () => {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Without' })).body as CharterState;
  const territories = { ...draft!.charter.territories, regionField: null };
  const sent = { version: draft!.version, charter: { ...draft!.charter, territories } };
  const { version } = ((await admin.put(`/api/drafts/${draft!.id}`).send(sent).expect(200)).body as CharterState)
    .draft!;
  const refused = await admin.post(`/api/drafts/${draft!.id}/enact`).send({ version, reason: 'so' }).expect(422);
  expect(JSON.stringify(refused.body)).toContain('territories cover regions');
});

test('a pin keeps a lead in its territory whatever its address, with a note in its history; unpinned, it follows again', async () => {
  const [first, second] = [await bring({ country: 'DE', state: 'BY' }), await bring({ country: 'NO' })];
  const pin = (body: object, who = admin) => who.post('/api/leads/pin').send(body);
  const sent = { ids: [first.id, second.id, 4711], territory: 'nordics', reason: 'An account of ours' };
  const { done, refused } = (await pin(sent).expect(200)).body as DoneEach;
  expect([done, refused.map(({ id }) => id)]).toEqual([[first.id, second.id], [4711]]);
  const before = await leadOf(first.id);
  expect(before).toMatchObject({ territory: 'nordics', pin: 'nordics' });
  await edit(first.id, { state: 'Hessen' });
  expect(await leadOf(first.id)).toMatchObject({ territory: 'nordics', owner: before.owner });
  const detail = (await admin.get(`/api/leads/${first.id}`)).body as LeadDetail;
  expect(detail.pin).toBe('nordics');
  expect(detail.history).toContainEqual(
    expect.objectContaining({ field: 'pin', from: null, to: 'nordics', reason: 'An account of ours' }),
  );
  await pin({ ids: [first.id], territory: null, reason: null }).expect(200);
  expect(await leadOf(first.id)).toMatchObject({ territory: 'dach', pin: null });
  await pin({ ids: [first.id], territory: 'atlantis', reason: null }).expect(422);
});

test('a pinned lead keeps its territory when the charter is redrawn; one that follows moves, and its owner stays', async () => {
  const [kept, follows] = [await bring({ country: 'NO' }), await bring({ country: 'NO' })];
  await admin
    .post('/api/leads/pin')
    .send({ ids: [kept.id], territory: 'nordics' })
    .expect(200);
  const owner = (await leadOf(follows.id)).owner;
  await enact(({ territories, ...charter }) => {
    const list = territories.list.map((one) => {
      const countries = one.key === 'nordics' ? [] : one.key === 'dach' ? [...one.countries, 'NO'] : one.countries;
      return { ...one, countries };
    });
    return { ...charter, territories: { ...territories, list } };
  });
  expect(await leadOf(kept.id)).toMatchObject({ territory: 'nordics' });
  expect(await leadOf(follows.id)).toMatchObject({ territory: 'dach', owner });
});
