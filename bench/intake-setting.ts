import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Agent, request } from 'node:http';
import { type Ostervane, ostervane } from '@relvik/demo';

const COUNTRIES = ['NO', 'SE', 'DE', 'AT', 'GB', 'US', 'CA', 'ES'];

/** Leads as another system sends them: of many companies, each in one country; each e-mail once. */
export function leadOf(n: number, prefix: string): Record<string, string> {
  const company = n % 997;
  const pick = (list: readonly string[]): string => list[(n * 7919) % list.length] as string;
  return {
    name: `Person ${n}`,
    email: `${prefix}${n}@intake${company}.example`,
    company: `Works ${company}`,
    industry: pick(['Brewery', 'Fish farm', 'Golf course', 'Vineyard', 'Pulp mill']),
    country: COUNTRIES[company % COUNTRIES.length] as string,
    employees: String((n * 37) % 900),
    title: pick(['Plant manager', 'Head brewer', 'Student', 'Operations lead']),
    source: pick(['Website form', 'Trade show', 'Partner', 'Paid advert']),
    deal_value: `${1000 + ((n * 131) % 90_000)} EUR`,
  };
}

type Grid = { readonly cells: readonly (readonly string[])[] };

/**
 * The demo's world, with a grid that hands over who has any fit, however quiet: leads of a key come without activities, so
 * that none of them would be routed otherwise. Who has stood in the second stage for half a day goes on.
 */
export function worldThatHandsOver(): Ostervane {
  const world = ostervane('ostervane', Date.now());
  const { scoreSets, gates, ...charter } = world.charter as {
    scoreSets: readonly { of: string; grid: Grid }[];
    gates: readonly object[];
  };
  const goesOn = {
    ...{ key: 'goes-on', name: 'Goes on', from: 'qualified', to: 'site-known', on: true },
    ...{ when: { test: 'all', of: [] }, minHours: 12 },
  };
  const handingOver = ({ cells }: Grid): Grid['cells'] =>
    cells.map((row, fit) => (fit === 0 ? row : row.map(() => 'hand-over')));
  return {
    ...world,
    charter: {
      ...charter,
      gates: [goesOn, ...gates],
      scoreSets: scoreSets.map((set) => ({ ...set, grid: { ...set.grid, cells: handingOver(set.grid) } })),
    },
  };
}

export interface Target {
  readonly port: number;
  readonly secret: string;
}

/** Sends leads over HTTP, so many at a time, and gives how long each waited, ms, and how many were answered a second. */
export async function sendLeads(
  { port, secret }: Target,
  count: number,
  clients: number,
  prefix: string,
): Promise<{ readonly rate: number; readonly waits: number[] }> {
  const agent = new Agent({ keepAlive: true, maxSockets: clients });
  const waits: number[] = [];
  let next = 0;
  const one = (n: number): Promise<void> =>
    new Promise((resolve, reject) => {
      const body = JSON.stringify({ values: leadOf(n, prefix) });
      const began = performance.now();
      const sent = request(
        {
          agent,
          host: '127.0.0.1',
          port,
          method: 'POST',
          path: '/api/intake/leads',
          headers: {
            'Content-Type': 'application/json',
            'Content-Length': Buffer.byteLength(body),
            Authorization: `Bearer ${secret}`,
          },
        },
        (answer) => {
          answer.resume();
          answer.on('end', () => {
            waits.push(performance.now() - began);
            if (answer.statusCode === 201) resolve();
            else reject(new Error(`answered ${answer.statusCode ?? 0}`));
          });
        },
      );
      sent.on('error', reject);
      sent.end(body);
    });
  const client = async (): Promise<void> => {
    while (next < count) {
      next += 1;
      await one(next);
    }
  };
  const began = performance.now();
  await Promise.all(Array.from({ length: clients }, client));
  const rate = (count * 1000) / (performance.now() - began);
  agent.destroy();
  return { rate, waits };
}

/** A server as a process of its own: the whole one, or one that checks and answers without decision and database. */
export async function startServer(access: object, kind: 'whole' | 'bare'): Promise<Target & { stop(): Promise<void> }> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'bench/intake-server.ts'], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: { ...process.env, BENCH_ACCESS: JSON.stringify(access), BENCH_KIND: kind },
  });
  const [target] = (await once(child, 'message')) as [Target];
  return {
    ...target,
    async stop() {
      child.kill('SIGTERM');
      await once(child, 'exit');
    },
  };
}
