import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { acceptLeads } from '../packages/server/src/act/accept-leads';
import { act } from '../packages/server/src/act/acting';
import { sha256 } from '../packages/server/src/session/session-store';
import { IntakeKeyEntity } from '../packages/server/src/store/entity/intake.entity';
import type { Access } from '../packages/server/src/store/open-database';
import { leadOf } from './intake-setting';
import { atMost, type Figure, median, percentile95 } from './measure';
import { call, pause, signedIn, TrustServer } from './trust-server';

/** Single leads sent to a server while it works on something else. */

const PORT = 4480;

/** A server of the product to which single leads are sent, one every 25 ms. */
class Beside {
  private constructor(
    private readonly server: TrustServer,
    private readonly secret: string,
  ) {}

  static async begin(source: DataSource, access: Access, folder: string): Promise<Beside> {
    const file = join(folder, 'access.json');
    writeFileSync(file, JSON.stringify(access));
    const server = new TrustServer(file, PORT);
    await server.start();
    const secret = `rk_beside${Date.now()}`;
    await source.manager.insert(IntakeKeyEntity, {
      name: secret,
      hash: sha256(secret),
      begins: secret.slice(0, 12),
      fields: Object.keys(leadOf(0, '')),
      createdAt: new Date(),
      lastUsedAt: new Date(),
      revoked: false,
      trusted: true,
    });
    return new Beside(server, secret);
  }

  /** The 95th percentile of the waits of leads sent for so long, ms. */
  async singles(seconds: number, prefix: string): Promise<number> {
    const waits: Promise<number>[] = [];
    for (let n = 0; n < seconds * 40; n += 1) {
      const began = performance.now();
      const headers = { Authorization: `Bearer ${this.secret}` };
      waits.push(
        call(PORT, 'POST', '/api/intake/leads', { values: leadOf(n, prefix) }, headers).then(
          () => performance.now() - began,
        ),
      );
      await pause(25);
    }
    return percentile95(await Promise.all(waits));
  }

  end(): Promise<void> {
    return this.server.end('SIGKILL');
  }
}

/** A single lead's wait, alone and beside a file of 50,000 rows that is being taken in. */
export async function besideImport(source: DataSource, access: Access, folder: string): Promise<Figure> {
  const server = await Beside.begin(source, access, folder);
  await server.singles(3, 'warm-');
  const alone = [await server.singles(6, 'alone1-'), await server.singles(6, 'alone2-')];
  const rows = Array.from({ length: 50_000 }, (_, n) => Object.values(leadOf(n, 'file')).join(','));
  const admin = await signedIn(PORT, 'admin@ostervane.example');
  const file = [Object.keys(leadOf(0, '')).join(','), ...rows].join('\n');
  await call(PORT, 'POST', '/api/intake/csv?name=large.csv', file, admin);
  const beside = [
    await server.singles(8, 'beside1-'),
    await server.singles(8, 'beside2-'),
    await server.singles(8, 'beside3-'),
  ];
  const [{ n: left }] = await source.query<[{ n: string }]>(
    "SELECT COUNT(*) AS n FROM import_row WHERE state = 'waiting'",
  );
  console.log(
    `  alone ${alone.map((one) => one.toFixed(1)).join(', ')} ms; beside ${beside.map((one) => one.toFixed(1)).join(', ')} ms; ${left} rows were still waiting`,
  );
  await server.end();
  return atMost(
    'S5',
    'a single lead’s 95th percentile beside a 50,000-row import, against its own',
    3,
    'times',
    beside.map((one) => one / median(alone)),
  );
}

/** Leads whose least time in their stage is over within one minute. */
const DUE = 10_000;
const HOURS = 12;
const ROUNDS = 3;

/** A single lead's wait while the least time of 10,000 leads is reached within one minute, by turns with its own; and when the last has moved. */
export async function besideDueLeads(
  source: DataSource,
  access: Access,
  folder: string,
): Promise<{ readonly figures: readonly Figure[]; readonly seen: string }> {
  for (let from = 0; from < DUE; from += 500)
    await act(source, new Date(), (acting) =>
      acceptLeads(
        acting,
        Array.from({ length: 500 }, (_, n) => ({
          cause: { kind: 'api', name: 'bench' } as const,
          at: new Date(),
          values: leadOf(from + n, 'due'),
          owner: null,
          trusted: true,
        })),
      ),
    );
  const server = await Beside.begin(source, access, folder);
  await server.singles(3, 'warm-due-');
  const [ratios, ends]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    const alone = await server.singles(10, `alone-due${round}-`);
    const began = Date.now();
    await dueWithinAMinute(source, began);
    const [beside, over] = await Promise.all([
      server.singles(60, `beside-due${round}-`),
      secondsUntilMoved(source, began),
    ]);
    console.log(
      `  alone ${alone.toFixed(1)} ms, beside ${beside.toFixed(1)} ms; all of ${DUE} had moved after ${over.toFixed(1)} s`,
    );
    ratios.push(beside / alone);
    ends.push(over);
    await source.query(
      "UPDATE `lead` SET stage = 'qualified', looks = '{}' WHERE email LIKE 'due%' AND stage = 'site-known'",
    );
  }
  await server.end();
  const figures = [
    atMost(
      'S5',
      `a single lead’s 95th percentile while the least time of ${DUE.toLocaleString('en')} leads is reached within one minute, against its own`,
      2,
      'times',
      ratios,
    ),
    atMost(
      'S5',
      'until the last of them has moved, from the minute’s begin on (looked for once a second)',
      62,
      's',
      ends,
    ),
  ];
  return { figures, seen: 'Each of these leads moves through a gate, and is decided and written as any other.' };
}

/** Lets the leads stand in their stage so that the time of each is over at another instant of the minute that begins. */
async function dueWithinAMinute(source: DataSource, began: number): Promise<void> {
  await source.query(
    `UPDATE \`lead\` l JOIN (SELECT id, ROW_NUMBER() OVER (ORDER BY id) AS n FROM \`lead\` WHERE email LIKE 'due%' AND stage = 'qualified') o ON o.id = l.id
     SET l.stage_since = DATE_ADD(?, INTERVAL o.n * ? MICROSECOND), l.changes_at = DATE_ADD(?, INTERVAL o.n * ? MICROSECOND)`,
    [new Date(began - HOURS * 3_600_000), 60_000_000 / DUE, new Date(began), 60_000_000 / DUE],
  );
}

/** Looked for once a second, from shortly before the minute's end on. */
async function secondsUntilMoved(source: DataSource, began: number): Promise<number> {
  await pause(58_000);
  while ((await standing(source)) > 0) await pause(1000);
  return (Date.now() - began) / 1000;
}

async function standing(source: DataSource): Promise<number> {
  const [row] = await source.query<[{ n: string }]>(
    "SELECT COUNT(*) AS n FROM `lead` WHERE email LIKE 'due%' AND stage = 'qualified'",
  );
  return Number(row.n);
}
