import type { Accepted, CharterState } from '@relvik/contracts';
import fc from 'fast-check';
import type { Agent } from 'supertest';
import { adminElsewhere } from '../fixture/second-server.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { finishRescores } from '../job/rescore';
import { DecisionEntity } from '../store/entity/history.entity';
import { RepLoadEntity } from '../store/entity/people.entity';

const REPS = ['ada', 'bo', 'dee'] as const;
type Rep = (typeof REPS)[number];

/** A model of one team that takes turns, written without the code under test. */
class Model {
  readonly owners = new Map<number, Rep>();
  waiting: { readonly id: number; readonly since: number }[] = [];
  readonly away = new Set<Rep>();
  readonly limits = new Map<Rep, number>();
  members: readonly Rep[] = REPS;
  paused = false;
  private last: { readonly rep: Rep; readonly order: readonly Rep[] } | null = null;

  openOf(rep: Rep): number[] {
    return [...this.owners].flatMap(([id, owner]) => (owner === rep ? [id] : []));
  }

  arrive(id: number, since: number): void {
    this.waiting = [...this.waiting, { id, since }].sort((a, b) => a.since - b.since || a.id - b.id);
    this.drain();
  }

  close(id: number): void {
    this.owners.delete(id);
    this.drain();
  }

  /** Those who wait go while anyone is free, the oldest first. */
  drain(): void {
    for (let [head] = this.waiting; head !== undefined; [head] = this.waiting) {
      const rep = this.next();
      if (rep === null) return;
      this.owners.set(head.id, rep);
      this.waiting = this.waiting.slice(1);
    }
  }

  /** The first who is free, after the one served last; where that one has left, after whoever stood before them. */
  private next(): Rep | null {
    const { last, members } = this;
    const before = last === null ? [] : last.order.slice(0, last.order.indexOf(last.rep) + 1);
    const from = before.findLast((rep) => members.includes(rep));
    const start = from === undefined ? 0 : members.indexOf(from) + 1;
    const rep = [...members.slice(start), ...members.slice(0, start)].find((one) => this.isFree(one)) ?? null;
    if (rep !== null) this.last = { rep, order: members };
    return rep;
  }

  private isFree(rep: Rep): boolean {
    return !this.paused && !this.away.has(rep) && this.openOf(rep).length < (this.limits.get(rep) ?? Infinity);
  }
}

let server: SmallServer;
let agents: readonly [Agent, Agent];
beforeAll(async () => {
  server = await SmallServer.start();
  agents = [await server.as('admin'), await adminElsewhere(server)];
  await setTeam({}, new Model());
  await setRep('ada', {}, new Model());
});
afterAll(() => server.stop());

function setTeam(change: object, { members, paused }: Model, by = 0): Promise<unknown> {
  const team = { paused, parent: null, hours: null, members: [...members] };
  return agents[by === 0 ? 0 : 1]
    .patch('/api/teams/north')
    .send({ ...team, ...change })
    .expect(200);
}

function setRep(rep: Rep, change: object, { away, limits }: Model, by = 0): Promise<unknown> {
  const as = { mayTakeLeads: true, whyNot: null, away: away.has(rep), limit: limits.get(rep) ?? null };
  return agents[by === 0 ? 0 : 1]
    .patch(`/api/people/${rep}`)
    .send({ ...as, ...change })
    .expect(200);
}

let brought = 0;
async function bring(by: number): Promise<number> {
  const values = { email: `p${(brought += 1)}@rota.example`, industry: 'Brewery', country: 'NO' };
  const made = await agents[by === 0 ? 0 : 1].post('/api/leads').send({ values }).expect(201);
  return (made.body as Accepted).id;
}

async function check(model: Model): Promise<void> {
  const rows = await server.source.query<{ id: number; owner: Rep | null; place: string }[]>(
    "SELECT id, owner, place FROM `lead` WHERE status = 'open' ORDER BY id",
  );
  const expected = [
    ...[...model.owners].map(([id, owner]) => ({ id, owner, place: 'owner' })),
    ...model.waiting.map(({ id }) => ({ id, owner: null, place: 'bay' })),
  ];
  expect(rows).toEqual(expected.sort((a, b) => a.id - b.id));
  const loads = await server.source.manager.find(RepLoadEntity);
  for (const rep of REPS)
    expect([rep, loads.find((one) => one.rep === rep)?.open ?? 0]).toEqual([rep, model.openOf(rep).length]);
}

type Step = fc.AsyncCommand<Model, object>;

function step(name: string, run: (model: Model) => Promise<void>, may: (model: Model) => boolean = () => true): Step {
  return {
    check: may,
    async run(model) {
      server.now = new Date(server.now.getTime() + 60_000);
      await run(model);
      await check(model);
    },
    toString: () => name,
  };
}

const arrive = (by: number): Step =>
  step(`arrive at ${by}`, async (model) => {
    model.arrive(await bring(by), server.now.getTime());
  });

/** Both servers take some at once: the order in which they decided them is theirs. */
const arriveTogether = step('several arrive at both', async (model) => {
  const ids = await Promise.all([0, 1, 0, 1].map(bring));
  const decisions = await server.source.manager.find(DecisionEntity, { order: { id: 'ASC' } });
  const first = decisions.filter(({ occasion, record }) => occasion === 'created' && ids.includes(record));
  for (const { record } of first) model.arrive(record, server.now.getTime());
});

const presence = (by: number, rep: Rep, away: boolean): Step =>
  step(`${rep} is ${away ? 'away' : 'here'}`, async (model) => {
    if (away) model.away.add(rep);
    else model.away.delete(rep);
    await setRep(rep, {}, model, by);
    model.drain();
  });

const limit = (by: number, rep: Rep, most: number | null): Step =>
  step(`${rep} may have ${most ?? 'any number'}`, async (model) => {
    if (most === null) model.limits.delete(rep);
    else model.limits.set(rep, most);
    await setRep(rep, {}, model, by);
    model.drain();
  });

const close = (by: number, rep: Rep): Step =>
  step(
    `${rep} closes one`,
    async (model) => {
      const [id = 0] = model.openOf(rep);
      const sent = { outcome: 'lost', reason: 'no answer' };
      await agents[by === 0 ? 0 : 1].post(`/api/leads/${id}/close`).send(sent).expect(200);
      model.close(id);
    },
    (model) => model.openOf(rep).length > 0,
  );

const team = (by: number, paused: boolean, members: readonly Rep[]): Step =>
  step(`team of ${members.join()}${paused ? ', paused' : ''}`, async (model) => {
    model.paused = paused;
    model.members = members;
    await setTeam({}, model, by);
    model.drain();
  });

/** The same rules under another name: turns, loads and those who wait stay as they are. */
const enact = step('enact', async () => {
  const { draft } = (await agents[0].post('/api/drafts').send({ name: 'Same' })).body as CharterState;
  const how = { version: draft?.version, reason: 'again', reach: 'score' };
  await agents[0].post(`/api/drafts/${draft?.id}/enact`).send(how).expect(202);
  await finishRescores(server.source, () => server.now);
});

test('over any history, by two servers, each lead goes to whom the model of the turns gives it, and waits where it waits there', async () => {
  const by = fc.nat(1);
  const rep = fc.constantFrom(...REPS);
  const commands = [
    by.map(arrive),
    by.map(arrive),
    fc.constant(arriveTogether),
    fc.tuple(by, rep, fc.boolean()).map((args) => presence(...args)),
    fc.tuple(by, rep, fc.constantFrom(null, 0, 1, 2, 4)).map((args) => limit(...args)),
    fc.tuple(by, rep).map((args) => close(...args)),
    fc
      .tuple(
        by,
        fc.constantFrom(false, false, true),
        fc.constantFrom(REPS, REPS, ['bo', 'ada', 'dee'] as const, ['dee', 'ada'] as const),
      )
      .map((args) => team(...args)),
    fc.constant(enact),
  ];
  const model = new Model();
  await fc.assert(
    fc.asyncProperty(fc.commands(commands, { maxCommands: 20, size: 'max' }), async (steps) => {
      // One history: what a run leaves is where the next begins.
      await fc.asyncModelRun(() => ({ model, real: {} }), steps);
    }),
    { numRuns: 15, endOnFailure: true },
  );
  expect(model.owners.size + model.waiting.length).toBeGreaterThan(10);
}, 240_000);
