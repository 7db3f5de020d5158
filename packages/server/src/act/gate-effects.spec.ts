import type { Accepted, ProposalPage, Reasoning } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { says, WHICH, withAskingGates } from '../fixture/asking-gates.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { passTime } from '../job/pass-time';

/** The gate that asks tags and sets what it passes on; from a trial on goes what it set, after two hours. */
function withEffects(charter: Charter): Charter {
  const { gates, ...rest } = withAskingGates(charter);
  const effects = [
    { kind: 'tag', tag: 'Trial run' },
    { kind: 'set', field: 'note', value: '5' },
  ] as const;
  const later = { ...WHICH, key: 'later', from: 'trial', to: 'qualified', minHours: 2, decider: { kind: 'rule' } };
  return {
    ...rest,
    gates: [
      { ...WHICH, effects },
      { ...later, when: says('tags', 'x') } as unknown as Charter['gates'][number],
      ...gates.slice(1),
    ].map((gate) =>
      gate.key === 'later'
        ? { ...gate, when: { test: 'any-of', subject: { kind: 'field', field: 'tags' }, values: ['trial run'] } }
        : gate,
    ),
  };
}

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withEffects);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (values: object): Promise<number> =>
  ((await admin.post('/api/leads').send({ values, owner: 'ada' }).expect(201)).body as Accepted).id;
const valuesOf = async (record: number): Promise<Record<string, string>> =>
  Object.fromEntries(
    (await server.source.manager.findBy(FieldValueEntity, { record })).map(({ field, shown }) => [field, shown]),
  );
const decide = async (answer: string): Promise<number> => {
  const [row] = ((await admin.get('/api/proposals')).body as ProposalPage).rows;
  await admin
    .post('/api/proposals/decide')
    .send({ decisions: [{ id: row!.id, answer }], reason: 'so' })
    .expect(200);
  return row!.id;
};
const stageOf = async (id: number): Promise<string> =>
  (await server.source.manager.findOneByOrFail(LeadEntity, { id })).stage;

test('what the gate changes is written with the move, found and told; undone with the decision, but for what someone changed since', async () => {
  const id = await bring({ email: 'a@gate.example', country: 'NO', note: '1', tags: 'Fair' });
  const proposal = await decide('trial');
  expect(await valuesOf(id)).toMatchObject({ note: '5', tags: 'Fair; Trial run' });
  const when = { test: 'any-of', subject: { kind: 'field', field: 'tags' }, values: ['TRIAL RUN'] };
  const found = await admin.get(`/api/lead-count?when=${encodeURIComponent(JSON.stringify(when))}`).expect(200);
  expect(found.body).toEqual({ count: 1 });
  const changes = await server.source.manager.findBy(ChangeEntity, { record: id, rule: 'which' });
  expect(changes.map(({ field, cause }) => `${field} ${cause}`).sort()).toEqual([
    'note rule',
    'stage hand',
    'tags rule',
  ]);
  const { then } = (await admin.get(`/api/leads/${id}/reasoning`)).body as Reasoning;
  expect(then.decision.gates.changes.map(({ field, gate }) => `${field} ${gate}`)).toEqual([
    'tags which',
    'note which',
  ]);

  const { version } = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version, values: { note: '8' } })
    .expect(200);
  const undone = await admin.post('/api/proposals/undo').send({ ids: [proposal] });
  expect(undone.body).toEqual({ done: [proposal], refused: [] });
  expect([await stageOf(id), await valuesOf(id)]).toMatchObject(['new', { note: '8', tags: 'Fair' }]);
});

test('another outcome changes nothing', async () => {
  const id = await bring({ email: 'b@gate.example', country: 'NO', note: '1' });
  await decide('plan');
  expect([await stageOf(id), await valuesOf(id)]).toMatchObject(['plan', { note: '1' }]);
  expect(Object.keys(await valuesOf(id))).not.toContain('tags');
});

test('a least time in hours is reached to the millisecond; also where the server was down at that moment: once, as of then', async () => {
  const id = await bring({ email: 'c@gate.example', country: 'NO' });
  await decide('trial');
  const { stageSince } = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  const over = stageSince.getTime() + 2 * 3_600_000;
  await passTime(server.source, new Date(over - 1));
  expect(await stageOf(id)).toBe('trial');
  // Nobody looked for three days: the gate acts at the first look after them.
  const late = new Date(over + 3 * 86_400_000);
  await passTime(server.source, late);
  await passTime(server.source, new Date(late.getTime() + 60_000));
  expect(await stageOf(id)).toBe('qualified');
  const moves = await server.source.manager.findBy(ChangeEntity, {
    record: id,
    field: 'stage',
    to: 'qualified' as never,
  });
  expect(moves.map(({ at, rule }) => [at, rule])).toEqual([[late, 'later']]);
});
