import type { Accepted, Reasoning } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { DecisionEntity } from '../store/entity/history.entity';
import { charterNumbered, decisionOf } from '../store/kept-decision';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterAll(() => server.stop());

test('a decision kept whole, as all were before, and one kept condensed are shown alike', async () => {
  const values = { email: 'kept@a.example', industry: 'Brewery', country: 'NO', employees: '50' };
  const { id } = (await admin.post('/api/leads').send({ values })).body as Accepted;
  const shown = async () => (await admin.get(`/api/leads/${id}/reasoning`)).body as Reasoning;
  const condensed = await shown();
  expect(condensed.then.decision.score.signals.map(({ account }) => account?.answer)).toContain('yes');
  expect(condensed.then.decision.routing?.looked.length).toBeGreaterThan(0);

  const { manager } = server.source;
  const row = await manager.findOneByOrFail(DecisionEntity, { record: id });
  expect(row.format).toBe(5);
  const whole = decisionOf(row, await charterNumbered(manager, row.charter));
  expect(JSON.stringify(row.body).length).toBeLessThan(0.7 * JSON.stringify(whole).length);
  // Before bands had keys, a grade was kept without them.
  const { bands, ...byPlace } = whole.grade!;
  expect(bands).toEqual({ fit: 'a', engagement: 'quiet' });
  await manager.update(DecisionEntity, row.id, { format: 2, body: { ...row.body, grade: byPlace } });
  expect(await shown()).toEqual(condensed);
  // Before gates changed values a record that ran in a circle stood where it was stopped.
  const { changes: _, ...gates } = row.body.gates;
  const looped = { ...gates, loop: true as never, moves: [{ gate: 'qualify', from: 'new', to: 'qualified' }] as never };
  await manager.update(DecisionEntity, row.id, { format: 4, body: { ...row.body, gates: looped as never } });
  expect((await shown()).then.decision.gates).toMatchObject({
    loop: ['qualify'],
    changes: [],
    moves: [{ to: 'qualified' }],
  });
  await manager.update(DecisionEntity, row.id, { format: 1, body: whole });
  expect(await shown()).toEqual(condensed);
});
