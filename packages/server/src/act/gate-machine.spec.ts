import type { Accepted, CharterState, DoneEach, LeadDetail } from '@relvik/contracts';
import fc from 'fast-check';
import type { Agent } from 'supertest';
import { withAskingGates } from '../fixture/asking-gates.fixture';
import { adminElsewhere } from '../fixture/second-server.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { finishRescores } from '../job/rescore';
import { passTime } from '../job/pass-time';
import { ChangeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';

/** A model of the gates of the fixture, for one lead, written without the code under test. */
class Model {
  stage = 'new';
  /** Whether `which`, the gate that asks in `new`, holds, and whether `done`, the one that moves in `trial`, does. */
  readonly holds = { new: false, trial: false };
  /** The look of the gate of the stage. */
  look = false;
  open = false;
  asked = 0;
  moves = 0;

  set(stage: 'new' | 'trial', holds: boolean): void {
    this.holds[stage] = holds;
    this.run();
  }

  private run(): void {
    if (this.stage !== 'new' && this.stage !== 'trial') return;
    const holds = this.holds[this.stage];
    if (holds && !this.look) {
      if (this.stage === 'trial') {
        this.enter('qualified');
        return;
      }
      this.open = true;
      this.asked += 1;
    }
    this.look = holds;
    if (!holds) this.open = false;
  }

  private enter(stage: string): void {
    this.stage = stage;
    this.look = false;
    this.open = false;
    this.moves += 1;
  }

  takePick(): void {
    this.enter('trial');
    this.run();
  }

  moveByHand(stage: string): void {
    this.enter(stage);
    this.look = stage === 'new' || stage === 'trial' ? this.holds[stage] : false;
  }
}

/** Two servers over one database, each with someone signed in. */
interface Real {
  readonly id: number;
  readonly agents: readonly [Agent, Agent];
}

let server: SmallServer;
let agents: readonly [Agent, Agent];
beforeAll(async () => {
  server = await SmallServer.start(withAskingGates);
  agents = [await server.as('admin'), await adminElsewhere(server)];
});
afterAll(() => server.stop());

const agentOf = ({ agents: [first, second] }: Real, by: number): Agent => (by === 0 ? first : second);
const leadOf = ({ id }: Real): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const openOf = ({ id }: Real): Promise<ProposalEntity[]> =>
  server.source.manager.findBy(ProposalEntity, { record: id, state: 'open' });

async function check(model: Model, real: Real): Promise<void> {
  const { manager } = server.source;
  const lead = await leadOf(real);
  expect({
    stage: lead.stage,
    open: (await openOf(real)).length,
    asked: await manager.countBy(ProposalEntity, { record: real.id }),
    moves: await manager.countBy(ChangeEntity, { record: real.id, field: 'stage' }),
  }).toEqual({ stage: model.stage, open: model.open ? 1 : 0, asked: model.asked, moves: model.moves });
}

type Step = fc.AsyncCommand<Model, Real>;

function step(name: string, may: (model: Model) => boolean, run: (model: Model, real: Real) => Promise<void>): Step {
  return {
    check: may,
    async run(model, real) {
      await run(model, real);
      await check(model, real);
    },
    toString: () => name,
  };
}

const VALUES = {
  new: (holds: boolean) => ({ country: holds ? 'NO' : 'SE' }),
  trial: (holds: boolean) => ({ note: holds ? '7' : '1' }),
} as const;

const edit = (by: number, stage: 'new' | 'trial', holds: boolean): Step =>
  step(
    `edit ${stage} ${holds}`,
    () => true,
    async (model, real) => {
      const { version } = await leadOf(real);
      const values = VALUES[stage](holds);
      await agentOf(real, by).patch(`/api/leads/${real.id}`).send({ version, values }).expect(200);
      if (model.holds[stage] !== holds) model.set(stage, holds);
    },
  );

/** Both servers write another country on the same version: at most one is told that it came too late, and what stands decides. */
const race = step(
  'race',
  () => true,
  async (model, real) => {
    const { version } = await leadOf(real);
    const answers = await Promise.all(
      real.agents.map((agent, i) =>
        agent.patch(`/api/leads/${real.id}`).send({ version, values: { country: i === 0 ? 'NO' : 'DK' } }),
      ),
    );
    expect(answers.map(({ status }) => status).sort()[0]).toBe(200);
    const { values } = (await real.agents[0].get(`/api/leads/${real.id}`)).body as LeadDetail;
    const holds = values.find(({ field }) => field === 'country')?.shown === 'NO';
    if (model.holds.new !== holds) model.set('new', holds);
  },
);

const decide = (answer: 'trial' | 'plan' | null): Step =>
  step(
    `decide ${answer ?? 'no'}`,
    (model) => model.open,
    async (model, real) => {
      const [proposal] = await openOf(real);
      const sent = { decisions: [{ id: proposal?.id, answer }], reason: 'so' };
      // Both servers at once: one of them decides.
      const answers = await Promise.all(real.agents.map((agent) => agent.post('/api/proposals/decide').send(sent)));
      expect(answers.flatMap(({ body }) => (body as DoneEach).done)).toEqual([proposal?.id]);
      if (answer === 'trial') model.takePick();
      else if (answer === null) model.open = false;
      else model.moveByHand(answer);
    },
  );

const move = (by: number, stage: string): Step =>
  step(
    `move to ${stage}`,
    (model) => model.stage !== stage,
    async (model, real) => {
      const sent = { ids: [real.id], stage, reason: 'by hand' };
      const answer = await agentOf(real, by).post('/api/leads/move').send(sent);
      expect(answer.body as DoneEach).toEqual({ done: [real.id], refused: [] });
      model.moveByHand(stage);
    },
  );

const idle = (name: string, run: (real: Real) => Promise<void>): Step =>
  step(
    name,
    () => true,
    (_, real) => run(real),
  );

/** A click: an occasion on which nothing that gates ask changes. */
const click = idle('click', async (real) => {
  await real.agents[0].post(`/api/leads/${real.id}/activities`).send({ kind: 'mail_clicked' }).expect(201);
});
const time = idle('time', async () => {
  server.now = new Date(server.now.getTime() + 600_000);
  await passTime(server.source, server.now);
});
const enact = idle('enact', async (real) => {
  const { draft } = (await real.agents[0].post('/api/drafts').send({ name: 'Same' })).body as CharterState;
  const how = { version: draft?.version, reason: 'again', reach: 'score' };
  await real.agents[0].post(`/api/drafts/${draft?.id}/enact`).send(how).expect(202);
  await finishRescores(server.source, () => server.now);
});

test('over any history, by two servers, each gate asks and moves exactly once at each rising edge, as the model does', async () => {
  const by = fc.nat(1);
  const holding = fc.constantFrom<'new' | 'trial'>('new', 'trial');
  const commands = [
    fc.tuple(by, holding, fc.boolean()).map((args) => edit(...args)),
    fc.tuple(by, fc.constant<'new'>('new'), fc.boolean()).map((args) => edit(...args)),
    fc.constant(race),
    fc.constantFrom<'trial' | 'plan' | null>('trial', 'plan', null).map(decide),
    fc.tuple(by, fc.constantFrom('new', 'trial', 'plan', 'qualified')).map((args) => move(...args)),
    fc.constantFrom(click, click, time, enact),
  ];
  let runs = 0;
  await fc.assert(
    fc.asyncProperty(fc.commands(commands, { maxCommands: 18, size: 'max' }), async (steps) => {
      runs += 1;
      const values = { email: `m${runs}@machine.example`, country: 'SE', note: '1' };
      const made = await agents[0].post('/api/leads').send({ values, owner: 'ada' }).expect(201);
      const real: Real = { id: (made.body as Accepted).id, agents };
      await fc.asyncModelRun(() => ({ model: new Model(), real }), steps);
    }),
    { numRuns: 40, endOnFailure: true },
  );
}, 240_000);
