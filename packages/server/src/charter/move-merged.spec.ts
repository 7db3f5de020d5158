import type { CharterState, LeadDetail } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { withCarePlans, withMerged } from '../fixture/two-pipelines.fixture';
import { finishRescores } from '../job/rescore';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(withCarePlans);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

async function enact(change: (charter: Charter) => Charter, scope: object = { which: 'new' }): Promise<void> {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Merged' })).body as CharterState;
  const sent = { version: draft!.version, charter: change(draft!.charter) };
  const saved = (await admin.put(`/api/drafts/${draft!.id}`).send(sent).expect(200)).body as CharterState;
  await admin
    .post(`/api/drafts/${draft!.id}/enact`)
    .send({ version: saved.draft!.version, reason: 'fewer stages', scope })
    .expect(202);
  await finishRescores(server.source, () => server.now);
}

const bring = async (email: string, pipeline: string): Promise<number> => {
  const values = { email, company: 'Fjord', industry: 'Brewery', country: 'NO' };
  return ((await admin.post('/api/leads').send({ values, pipeline })).body as { id: number }).id;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });

test('what stands in a stage that was merged moves on enact, open or closed, whatever the scope; its time there runs on, nothing is decided', async () => {
  const [open, closed] = [await bring('a@fjord.example', 'care'), await bring('b@fjord.example', 'care')];
  await admin.post(`/api/leads/${closed}/close`).send({ outcome: 'lost', reason: 'no' }).expect(200);
  const before = await Promise.all([open, closed].map(lead));
  server.now = new Date(server.now.getTime() + 3 * 86_400_000);
  admin = await server.as('admin');
  await enact((charter) => withMerged(charter, { 'care-new': 'care-talks' }));

  for (const [i, id] of [open, closed].entries()) {
    const { version, ...rest } = before[i]!;
    expect(await lead(id)).toEqual({ ...rest, stage: 'care-talks', version: version + 1 });
  }
  const { history } = (await admin.get(`/api/leads/${open}`)).body as LeadDetail;
  expect(history[0]).toMatchObject({
    field: 'stage',
    from: 'care-new',
    to: 'care-talks',
    cause: 'charter',
    charter: 2,
  });
  const decided = await server.source.query<{ n: string }[]>('SELECT COUNT(*) AS n FROM decision WHERE record = ?', [
    open,
  ]);
  expect(decided).toEqual([{ n: '1' }]);
});

test('a draft that merged a stage decides and lists what still stands in it as in the other; a stage merged twice ends in the last', async () => {
  const id = await bring('a@fjord.example', 'care');
  await enact((charter) => withMerged(charter, { 'care-new': 'care-talks' }));
  await enact((charter) => {
    const pipelines = charter.pipelines.map((one) =>
      one.key === 'care'
        ? {
            ...one,
            stages: [...one.stages, { key: 'care-last', name: 'Last', kind: 'open', beside: false, mergedFrom: [] }],
          }
        : one,
    );
    return withMerged({ ...charter, pipelines } as Charter, { 'care-talks': 'care-last' });
  });
  expect((await lead(id)).stage).toBe('care-last');
  const { draft } = (await admin.get('/api/charters')).body as CharterState;
  expect(draft).toBeNull();
});
