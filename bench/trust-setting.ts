import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Ostervane, ostervane } from '@relvik/demo';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { examine } from '../packages/server/src/doctor/examine';
import { sha256 } from '../packages/server/src/session/session-store';
import { IntakeKeyEntity } from '../packages/server/src/store/entity/intake.entity';
import { openDatabase } from '../packages/server/src/store/open-database';
import { leadOf } from './intake-setting';
import { call, pause } from './trust-server';

export const LEADS = 5000;
export const CLIENTS = 16;
const SECRET = 'rk_trust';
export const KEY = { Authorization: `Bearer ${SECRET}` };
export const PORT = 4470;

export interface Row {
  readonly what: string;
  readonly sent: number;
  readonly answered: number;
  readonly lost: number;
  readonly doubled: number;
  readonly overwritten: number;
  readonly phantom: number;
  readonly faults: number;
  readonly unanswered: number | null;
}

export interface Setting {
  readonly socket: string;
  readonly folder: string;
  restartDatabase(): Promise<void>;
}

export type Source = Awaited<ReturnType<typeof openDatabase>>;

/** A lead as it was answered, and what was sent. */
export interface Answered {
  readonly n: number;
  readonly id: number;
  readonly joined: boolean;
}

export async function fresh(
  { socket, folder }: Setting,
  name: string,
  world: Ostervane = ostervane('ostervane', Date.now()),
): Promise<{ source: Source; access: object; file: string }> {
  const { emptyDatabase } = await import('../scripts/mariadb.mjs');
  emptyDatabase(socket, name);
  const access = { socketPath: socket, user: 'root', password: '', database: name };
  const source = await openDatabase(access);
  await storeWorld(source, world, new Date());
  await source.manager.insert(IntakeKeyEntity, {
    name: 'trust',
    hash: sha256(SECRET),
    begins: SECRET,
    fields: ['name', 'email', 'company', 'industry', 'country', 'employees', 'title', 'source', 'deal_value'],
    createdAt: new Date(),
    lastUsedAt: new Date(),
    revoked: false,
    trusted: true,
  });
  const file = join(folder, `${name}.json`);
  writeFileSync(file, JSON.stringify(access));
  return { source, access, file };
}

/** Sends leads by several clients; what was not answered is sent again under its key, if it has one. */
export async function sendAll(
  ports: readonly number[],
  how: {
    readonly keys: boolean;
    readonly again: boolean;
    readonly prefix: string;
    readonly emailOf?: (n: number) => number;
    readonly leads?: number;
    readonly clients?: number;
  },
): Promise<Answered[]> {
  const answered: Answered[] = [];
  let next = 0;
  const client = async (): Promise<void> => {
    while (next < (how.leads ?? LEADS)) {
      next += 1;
      const n = next;
      const values = leadOf(n, how.prefix);
      if (how.emailOf) values['email'] = `${how.prefix}${how.emailOf(n)}@same.example`;
      const headers = { ...KEY, ...(how.keys ? { 'Idempotency-Key': `${how.prefix}-${n}` } : {}) };
      for (;;) {
        const { status, body } = await call(
          ports[n % ports.length] ?? PORT,
          'POST',
          '/api/intake/leads',
          { values },
          headers,
        );
        if (status === 201) {
          answered.push({ n, id: body.id ?? 0, joined: body.joined === true });
          break;
        }
        if (status !== 0 && status !== 503) throw new Error(`answered ${status}`);
        await pause(50);
        if (!how.again) break;
      }
    }
  };
  await Promise.all(Array.from({ length: how.clients ?? CLIENTS }, client));
  return answered;
}

/** Counts what went wrong, asked of the database itself. */
export async function judge(
  source: Source,
  what: string,
  answered: readonly Answered[],
  more: { readonly sent?: number; readonly overwritten?: number; readonly unanswered?: boolean } = {},
): Promise<Row> {
  const leads = await source.query<{ id: number; email: string | null }[]>(
    "SELECT id, IF(status = 'open', email, NULL) AS email FROM `lead`",
  );
  const here = new Set(leads.map(({ id }) => id));
  const lost = answered.filter(({ id }) => !here.has(id)).length;
  const emails = leads.flatMap(({ email }) => email ?? []);
  const doubled = emails.length - new Set(emails).size;
  const [{ n: activities }] = await source.query<[{ n: string }]>('SELECT COUNT(*) AS n FROM activity');
  const joined = answered.filter((one) => one.joined).length;
  const stored = answered.length - joined;
  const findings = await examine(source, new Date(), false);
  const row = {
    what,
    sent: more.sent ?? LEADS,
    answered: answered.length,
    lost,
    doubled: doubled + Math.max(0, more.unanswered === true ? 0 : leads.length - stored),
    overwritten: more.overwritten ?? 0,
    phantom: Math.max(0, Number(activities) - joined),
    faults: findings.reduce((sum, { count }) => sum + count, 0),
    unanswered: more.unanswered === true ? leads.length - (answered.length - joined) : null,
  };
  console.log(JSON.stringify(row), findings.length > 0 ? JSON.stringify(findings) : '');
  return row;
}

/** Sends while faults happen, each after a while of normal work, in milliseconds. */
export async function withFaults(
  faults: readonly (() => Promise<void>)[],
  sending: Promise<Answered[]>,
  work = 1200,
): Promise<Answered[]> {
  for (const fault of faults) {
    await pause(work);
    await fault();
  }
  return sending;
}
