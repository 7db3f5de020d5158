import type { Accepted, LeadDetail } from '@relvik/contracts';
import type { Column, Population } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { ActivityEntity } from '../store/entity/history.entity';
import { KeptLeads } from './kept-leads';
import { readPopulation } from './read-population';

let server: SmallServer;
let admin: Agent;
let kept: KeptLeads;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
  kept = new KeptLeads(server.source);
});
afterAll(() => server.stop());

/** What a population says of each record, whatever its dictionaries are. */
function told({ columns, events, standing, ids, ...rest }: Population): object {
  const hasBit = (bits: Uint32Array | null | undefined, i: number) => (((bits?.[i >>> 5] ?? 0) >>> (i & 31)) & 1) === 1;
  const at = (column: Column, i: number): unknown[] => {
    if (column.kind === 'money') return [column.minor[i], column.entered[i], at(column.currencies, i)];
    const value = column.kind === 'codes' ? column.dictionary[column.codes[i]! - 1] : column.values[i];
    return [value, hasBit(column.unreadable, i)];
  };
  const { keys, looks, open, inBay, stage, pin, owner, queue, charter } = standing;
  return {
    ...rest,
    records: Array.from(ids, (id, i) => [
      id,
      [...columns].map(([key, column]) => [key, at(column, i)]).sort(),
      [...events].map(([kind, { starts, at: times }]) => [kind, times.slice(starts[i], starts[i + 1])]).sort(),
      [stage, pin, owner, queue].map((list) => keys[list[i]! - 1]),
      [charter[i], hasBit(open, i), hasBit(inBay, i), [...looks].map(([gate, bits]) => [gate, hasBit(bits, i)]).sort()],
    ]),
  };
}

async function expectUpToDate(): Promise<Population> {
  const { population, meta } = await kept.bring(server.now);
  const fresh = await readPopulation(server.source, server.now);
  expect(told(population)).toEqual(told(fresh.population));
  expect(meta).toEqual(fresh.meta);
  return population;
}

const bring = async (values: object): Promise<number> =>
  ((await admin.post('/api/leads').send({ values })).body as Accepted).id;

test('whatever happens to leads, the population kept and brought up to date is the one read anew', async () => {
  const ids: number[] = [];
  for (let i = 0; i < 12; i += 1)
    ids.push(
      await bring({
        email: `k${i}@${i % 2 ? 'mail' : 'firm'}.example`,
        name: `P ${i}`,
        employees: String(i * 9),
        deal_value: `${i} EUR`,
      }),
    );
  const first = await expectUpToDate();
  expect((await kept.bring(server.now)).population).toBe(first);

  const edit = (id: number, version: number, values: object) =>
    admin.patch(`/api/leads/${id}`).send({ version, values });
  await edit(ids[0]!, 1, { employees: 'about 50', industry: 'Brewery', country: 'NO' });
  await edit(ids[1]!, 1, { employees: '', deal_value: '7 NOK' });
  await admin.post(`/api/leads/${ids[2]!}/activities`).send({ kind: 'call_taken' });
  await admin.post(`/api/leads/${ids[3]!}/close`).send({ outcome: 'lost', reason: 'no' });
  await bring({ email: 'later@new.example', company: 'Unheard of' });
  expect((await expectUpToDate()).size).toBe(13);

  const joined = (await admin.post(`/api/leads/${ids[4]!}/join`).send({ other: ids[5]!, take: [] })).body as LeadDetail;
  expect((await expectUpToDate()).size).toBe(12);
  await admin.delete(`/api/joins/${joined.joined[0]!.id}`);
  expect((await expectUpToDate()).size).toBe(13);
  const test = (
    (await admin.post('/api/leads').send({ values: { email: 't@t.example' }, test: true })).body as Accepted
  ).id;
  expect((await expectUpToDate()).size).toBe(14);
  await admin.delete(`/api/leads/${test}/test`);
  expect((await expectUpToDate()).size).toBe(13);
  await admin.post('/api/fields').send({ key: 'shoe', name: 'Shoe', type: 'number', options: [] });
  expect((await expectUpToDate()).columns.has('shoe')).toBe(true);
  await admin.post('/api/rates').send({ currency: 'GBP', from: '2026-01-01', rate: '0.9' });
  await expectUpToDate();
});

test('what was written before but committed late is not passed over', async () => {
  const [id, other] = [await bring({ email: 'late@l.example' }), await bring({ email: 'soon@l.example' })];
  const { manager } = server.source;
  const late = server.source.createQueryRunner();
  await late.connect();
  await late.startTransaction();
  await late.manager.insert(ActivityEntity, { record: id, kind: 'mail_clicked', at: server.now });
  await manager.insert(ActivityEntity, { record: other, kind: 'mail_clicked', at: server.now });
  await expectUpToDate();
  await late.commitTransaction();
  await late.release();
  const { events } = await expectUpToDate();
  expect(events.get('mail_clicked')!.at.length).toBe(2);
});
