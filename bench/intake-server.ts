import 'reflect-metadata';
import type { Express } from 'express';
import type { AddressInfo } from 'node:net';
import pino from 'pino';
import type { DataSource } from 'typeorm';
import { refusalOf } from '../packages/server/src/act/accept-leads';
import { compose } from '../packages/server/src/compose';
import { intakeEndpoints } from '../packages/server/src/endpoint/intake-endpoints';
import { buildApp } from '../packages/server/src/http/app';
import { InFlight } from '../packages/server/src/http/in-flight';
import { IntakeThread } from '../packages/server/src/intake/intake-thread';
import type { LeadWriter } from '../packages/server/src/intake/intake-writer';
import { NearDesk } from '../packages/server/src/population/population-desk';
import { UnroutedSubject } from '../packages/server/src/population/unrouted-population';
import { Refused } from '../packages/server/src/problem/refused';
import { sha256 } from '../packages/server/src/session/session-store';
import { IntakeKeyEntity } from '../packages/server/src/store/entity/intake.entity';
import { readGoverning } from '../packages/server/src/store/governing';
import { type Access, describeDatabase, PATIENCE } from '../packages/server/src/store/open-database';

const SECRET = 'rk_bench';
const FIELDS = ['name', 'email', 'company', 'industry', 'country', 'employees', 'title', 'source', 'deal_value'];
const now = (): Date => new Date();
const settings = { log: pino({ level: 'warn' }), now, webFolder: null, limits: { signIn: 1000, form: 1000 } };
const background = { wake: () => undefined };

function whole(source: DataSource, access: Access): Express {
  return compose({
    counting: source,
    ...settings,
    source,
    writer: new IntakeThread(access, PATIENCE),
    desk: new NearDesk(source, now),
    desks: {
      contact: new NearDesk(source, now, new UnroutedSubject(source, 'contact')),
      company: new NearDesk(source, now, new UnroutedSubject(source, 'company')),
      deal: new NearDesk(source, now, new UnroutedSubject(source, 'deal')),
    },
    background,
    browserRecords: 200_000,
    demo: [],
  }).app;
}

/** The same parsing, checks and rights, from memory: no decision, and no database. */
async function bare(source: DataSource, key: IntakeKeyEntity): Promise<Express> {
  const governing = await readGoverning(source.manager, 'none');
  let id = 0;
  const writer: Pick<LeadWriter, 'accept'> = {
    accept({ values, allowed }) {
      const refusals = refusalOf(values, governing, allowed);
      if (refusals.length > 0)
        return Promise.reject(Refused.invalid(refusals.map(({ field, message }) => ({ path: field, message }))));
      id += 1;
      return Promise.resolve({ id, joined: false, warnings: [] });
    },
  };
  const keys = {
    find(secret: string | undefined) {
      return secret !== undefined && sha256(secret) === key.hash
        ? Promise.resolve(key)
        : Promise.reject(Refused.as('key-not-accepted'));
    },
  };
  return buildApp(
    intakeEndpoints(source, writer, background, { ways: () => Promise.resolve([]) }),
    { ...settings, source, keys, seen: { note: () => Promise.resolve() } },
    new InFlight(),
  );
}

/** The server of bench/intake.ts, as a process of its own. */
async function main(): Promise<void> {
  const access = JSON.parse(process.env['BENCH_ACCESS'] ?? '{}') as Access;
  const source = await describeDatabase(access).initialize();
  const key = source.manager.create(IntakeKeyEntity, {
    name: 'bench',
    hash: sha256(SECRET),
    begins: SECRET,
    fields: FIELDS,
    createdAt: now(),
    lastUsedAt: now(),
    revoked: false,
    trusted: true,
  });
  await source.manager.delete(IntakeKeyEntity, { hash: key.hash });
  await source.manager.save(key);
  const app = process.env['BENCH_KIND'] === 'bare' ? await bare(source, key) : whole(source, access);
  const listening = app.listen(0, '127.0.0.1', () => {
    process.send?.({ port: (listening.address() as AddressInfo).port, secret: SECRET });
  });
  process.on('SIGTERM', () => process.exit(0));
}

main().catch((error: unknown) => {
  throw error;
});
