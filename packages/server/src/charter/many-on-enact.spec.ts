import type { CharterState, DeskAnswer } from '@relvik/contracts';
import type { Charter, Impact } from '@relvik/core';
import { acceptLeads } from '../act/accept-leads';
import { act } from '../act/acting';
import { examine } from '../doctor/examine';
import { SmallServer } from '../fixture/small-server.fixture';
import { finishRescores } from '../job/rescore';

const MANY = 10_000;
const BATCH = 500;

let server: SmallServer;
beforeEach(async () => {
  server = await SmallServer.start((charter) => ({ ...charter, gates: [] }));
});
afterEach(() => server.stop());

const count = async (sql: string): Promise<number> =>
  Number((await server.source.query<{ n: string }[]>(`SELECT COUNT(*) AS n FROM ${sql}`))[0]?.n);

async function takeIn(): Promise<void> {
  for (let from = 0; from < MANY; from += BATCH)
    await act(server.source, server.now, (acting) =>
      acceptLeads(
        acting,
        Array.from({ length: BATCH }, (_, i) => ({
          cause: { kind: 'api', name: 'bulk' } as const,
          at: server.now,
          values: { email: `m${from + i}@firm${(from + i) % 97}.example`, country: 'NO', employees: '20' },
          owner: null,
          trusted: true,
        })),
      ),
    );
}

const TASK = { kind: 'task', title: 'Ring them', work: 'call', minutes: 60, working: true };
const DEAL = { kind: 'deal', stage: 'deal-open', days: 30, measured: false };

test.each([
  ['its task and a deal', [TASK, DEAL], true],
  ['its task left out', [TASK], false],
])('ten thousand leads pass a gate on enact, as foretold: each once, with its tag, and %s', async (_, more, tasks) => {
  await takeIn();
  const admin = await server.as('admin');
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Next' })).body as CharterState;
  const charter: Charter = {
    ...draft!.charter,
    gates: [
      {
        ...{ key: 'all', name: 'All', from: 'new', to: 'qualified', on: true, when: { test: 'all', of: [] } },
        ...{ requiredFields: ['employees'], minDays: 0, minHours: 0, decider: { kind: 'rule' } },
        effects: [{ kind: 'tag', tag: 'Enacted' }, ...more],
      } as unknown as Charter['gates'][number],
    ],
  };
  const saved = await admin.put(`/api/drafts/${draft!.id}`).send({ version: draft!.version, charter });
  const { inForce, draft: drawn } = saved.body as CharterState;
  const how = { reach: 'gates', scope: { which: 'all' } } as const;
  const asks = { pair: { inForce: inForce.charter, draft: charter }, reading: { kind: 'on-enact', ...how } };
  const said = (await admin.post('/api/population/questions').send({ question: 'impact', asks })).body as DeskAnswer;
  const { answer: foretold } = said.answer as { answer: Impact };
  expect(foretold.facets.stage.changed).toBe(MANY);
  const met = (await admin.post('/api/population/questions').send({ question: 'meeting', asks })).body as DeskAnswer;
  expect(met.answer).toMatchObject({
    answer: { chosen: MANY, tasks: MANY, deals: tasks ? MANY : 0 },
  });

  const enact = { version: drawn!.version, reason: 'all of them', tasks, ...how };
  await admin.post(`/api/drafts/${drawn!.id}/enact`).send(enact).expect(202);
  await finishRescores(server.source, () => server.now);
  expect(await count("`lead` WHERE stage = 'qualified'")).toBe(MANY);
  expect(await count("record_change WHERE field = 'stage' AND rule = 'all'")).toBe(MANY);
  expect(await count("record_change WHERE field = 'tags' AND rule = 'all'")).toBe(MANY);
  expect(await count("field_value WHERE field = 'tags' AND choices = ';enacted;'")).toBe(MANY);
  expect([await count('task'), await count('deal')]).toEqual(tasks ? [MANY, MANY] : [0, 0]);
  expect(await count('`lead` WHERE open_deals = 1')).toBe(tasks ? MANY : 0);
  expect(await examine(server.source, server.now, false)).toEqual([]);
});
