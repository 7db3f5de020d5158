import { type Charter, type Field, SMALL_CHARTER, SMALL_WORLD } from './small-world.fixture';
import pino from 'pino';
import request, { type Agent } from 'supertest';
import type { DataSource } from 'typeorm';
import { CompanySubject } from '../company/company-population';
import { CharterEntity } from '../charter/charter.entity';
import { finishRescores } from '../charter/rescore';
import { testDatabase } from '../database/test-database.fixture';
import { insertRows } from '../database/rows';
import { FormEntity } from '../intake/intake.entity';
import { PersonEntity, QueueEntity, QueueMemberEntity, TeamEntity, TeamMemberEntity } from '../people/people.entity';
import { FieldEntity, RateEntity } from '../record/catalogue.entity';
import { NearDesk } from '../population/population-desk';
import { hashPassword } from '../session/password';
import { buildService, type Service } from './app';

export const PASSWORD = 'a word to pass';

/** A server on a fresh database with the small charter: Ada, Bo, Cai (may take none) and Dee outside their team; a manager; an admin. */
export class SmallServer {
  now = new Date('2026-03-02T09:00:00Z');

  private constructor(
    readonly source: DataSource,
    readonly service: Service,
  ) {}

  static async start(change: (charter: Charter) => Charter = (charter) => charter): Promise<SmallServer> {
    const source = await testDatabase();
    await fill(source, change);
    const box: { server?: SmallServer } = {};
    const now = (): Date => box.server?.now ?? new Date();
    const service = buildService({
      source,
      desk: new NearDesk(source, now),
      companies: new NearDesk(source, now, new CompanySubject(source)),
      tending: { wake: () => void finishRescores(source, now).catch(() => undefined) },
      browserRecords: 200_000,
      log: pino({ level: 'silent' }),
      now,
      webFolder: null,
      demo: [],
      limits: { signIn: 1000, form: 1000 },
    });
    const server = new SmallServer(source, service);
    box.server = server;
    return server;
  }

  /** Requests without sign-in. */
  get anyone(): ReturnType<typeof request> {
    return request(this.service.app);
  }

  /** Requests as someone, with the token that changes need. */
  async as(key: string): Promise<Agent> {
    const agent = request.agent(this.service.app);
    const answer = await agent.post('/api/session').send({ email: `${key}@relvik.example`, password: PASSWORD });
    const cookies = answer.headers['set-cookie'] as unknown as string[];
    const token = /XSRF-TOKEN=([^;]+)/.exec(cookies.join())?.[1] ?? '';
    agent.set('X-XSRF-TOKEN', token);
    return agent;
  }

  async stop(): Promise<void> {
    await this.service.writer.settled();
    await this.source.destroy();
  }
}

async function fill(source: DataSource, change: (charter: Charter) => Charter): Promise<void> {
  const { manager } = source;
  const password = await hashPassword(PASSWORD);
  const at = new Date('2026-01-01T00:00:00Z');
  const person = (
    key: string,
    name: string,
    role: 'admin' | 'manager' | 'rep',
    mayTakeLeads: boolean,
    takes: number | null,
  ) => ({
    key,
    name,
    role,
    mayTakeLeads,
    takes,
    whyNot: mayTakeLeads ? null : 'has no seat',
    email: `${key}@relvik.example`,
    password,
    retired: false,
  });
  await insertRows(
    manager,
    FieldEntity,
    SMALL_WORLD.fields.map((field, position) => ({
      ...field,
      type: field.type as Field['type'],
      options: field.options ?? [],
      retired: false,
      position,
    })),
  );
  await insertRows(manager, FieldEntity, [
    { key: 'name', name: 'Name', type: 'text', options: [], retired: false, position: 20 },
    { key: 'company', name: 'Company', type: 'text', options: [], retired: false, position: 21 },
  ]);
  await insertRows(manager, RateEntity, [{ currency: 'NOK', fromDay: '2026-01-01', micro: '85000' }]);
  await insertRows(manager, PersonEntity, [
    person('admin', 'Runa Admin', 'admin', false, null),
    person('boss', 'Hedda Boss', 'manager', false, null),
    person('ada', 'Ada Lindqvist', 'rep', true, 2),
    person('bo', 'Bo Rask', 'rep', true, null),
    person('cai', 'Cai Morgan', 'rep', false, null),
    person('dee', 'Dee Winslade', 'rep', true, null),
  ]);
  await insertRows(manager, TeamEntity, [
    { key: 'north', name: 'Team north', parent: null },
    { key: 'overseas', name: 'Team overseas', parent: null },
  ]);
  await insertRows(manager, TeamMemberEntity, [
    ...['ada', 'cai', 'bo'].map((key, joined) => ({ team: 'north', person: key, joined, leads: false })),
    { team: 'north', person: 'boss', joined: 9, leads: true },
    { team: 'overseas', person: 'dee', joined: 0, leads: false },
  ]);
  await insertRows(manager, QueueEntity, [
    { key: 'projects', name: 'Projects' },
    { key: 'operations', name: 'Operations' },
  ]);
  await insertRows(manager, QueueMemberEntity, [
    { queue: 'projects', person: 'bo' },
    { queue: 'projects', person: 'dee' },
  ]);
  await insertRows(manager, CharterEntity, [
    {
      inForce: true,
      number: 1,
      base: 0,
      name: 'Small',
      body: change(SMALL_CHARTER),
      version: 1,
      author: 'x',
      changedAt: at,
      enactedAt: at,
      reason: null,
      note: null,
    },
  ]);
  await insertRows(manager, FormEntity, [
    {
      slug: 'ask',
      title: 'Ask',
      intro: 'Ask us',
      thanks: 'Thanks',
      fields: ['name', 'email', 'country', 'employees'].map((key) => ({ key, required: key === 'email' })),
      sets: {},
      received: 0,
    },
  ]);
}
