import type { Decision, Method } from '@relvik/core';
import type { Ostervane } from '@relvik/demo';
import { PersonEntity } from '../packages/server/src/store/entity/people.entity';
import { DecisionEntity } from '../packages/server/src/store/entity/history.entity';
import { openDatabase } from '../packages/server/src/store/open-database';
import { worldThatHandsOver } from './intake-setting';
import { TrustServer } from './trust-server';
import { fresh, judge, PORT, type Row, sendAll, type Setting, type Source, withFaults } from './trust-setting';

const LEADS = 20_000;
const CLIENTS = 64;

/** A route for each industry, each to people of its own. */
const ROUTES: readonly { readonly industry: string; readonly method: Method; readonly reps: readonly string[] }[] = [
  { industry: 'Brewery', method: 'round-robin', reps: ['rep', 'maren', 'jorun'] },
  { industry: 'Fish farm', method: 'weighted', reps: ['lorenz', 'wiebke', 'jost'] },
  { industry: 'Vineyard', method: 'lightest-load', reps: ['rhona', 'owen', 'delia'] },
  { industry: 'Pulp mill', method: 'first-free', reps: ['harlan', 'tess', 'alvaro'] },
];
const WEIGHTS: Readonly<Record<string, number>> = { lorenz: 5, wiebke: 1, jost: 1 };

/** The choices of one route, held against its method. */
export interface TurnsSeen {
  readonly method: Method;
  readonly given: number;
  /** The most by which two people were apart at any point. */
  readonly uneven: number;
  /** Choices that differ from the reference sequence; null: there is none. */
  readonly wrong: number | null;
}

function worldOfTurns(): Ostervane {
  const world = worldThatHandsOver();
  const charter = world.charter as { readonly streams: readonly object[] };
  const [stream] = charter.streams;
  const routes = ROUTES.map(({ industry, method, reps }) => ({
    ...{ key: `turns-${method}`, name: method, on: true, to: { kind: 'reps', reps }, method },
    when: { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: [industry] },
  }));
  return { ...world, charter: { ...charter, streams: [{ ...stream, routes }, ...charter.streams.slice(1)] } };
}

/** Two servers on one database take 20,000 leads; one server is killed, then the database. Turns are held against the methods. */
export async function turns(setting: Setting): Promise<{ row: Row; seen: readonly TurnsSeen[] }> {
  const { source, file, access } = await fresh(setting, 'turns', worldOfTurns());
  const people = { mayTakeLeads: true, takes: null, hours: null, daysOff: null, holidaysOf: null, weight: 100 };
  for (const { reps } of ROUTES)
    for (const key of reps)
      await source.manager.update(PersonEntity, { key }, { ...people, weight: 100 * (WEIGHTS[key] ?? 1) });
  await source.destroy();
  const servers = [new TrustServer(file, PORT), new TrustServer(file, PORT + 1)];
  for (const server of servers) await server.start();
  const killServer = async (): Promise<void> => {
    await servers[1]?.end('SIGKILL');
    await servers[1]?.start();
  };
  const answered = await withFaults(
    [killServer, setting.restartDatabase],
    sendAll([PORT, PORT + 1], { keys: true, again: true, prefix: 'g', leads: LEADS, clients: CLIENTS }),
    // So that both come in the middle.
    40_000,
  );
  for (const server of servers) await server.end('SIGTERM');
  const again = await openDatabase(access as never);
  const row = await judge(again, '(g) two servers, one killed, then the database', answered, { sent: LEADS });
  const seen = await turnsSeen(again);
  await again.destroy();
  for (const one of seen) console.log(JSON.stringify(one));
  return { row, seen };
}

async function turnsSeen(source: Source): Promise<TurnsSeen[]> {
  const chosen = new Map<string, string[]>();
  for (let after = 0; ;) {
    const rows = await source.manager
      .createQueryBuilder(DecisionEntity, 'decision')
      .where('decision.id > :after', { after })
      .orderBy('decision.id')
      .limit(1000)
      .getMany();
    for (const { body } of rows) {
      const { place, routing, kept } = body as Pick<Decision, 'place' | 'routing' | 'kept'>;
      if (place.kind !== 'owner' || routing?.match.kind !== 'matched' || kept === true) continue;
      const known = chosen.get(routing.match.route);
      if (known === undefined) chosen.set(routing.match.route, [place.rep]);
      else known.push(place.rep);
    }
    const last = rows.at(-1);
    if (last === undefined) break;
    after = last.id;
  }
  return ROUTES.map(({ method, reps }) => {
    const given = chosen.get(`turns-${method}`) ?? [];
    return {
      ...{ method, given: given.length, uneven: unevenness(given, reps) },
      wrong: method === 'weighted' ? wrongChoices(given, reps) : null,
    };
  });
}

function unevenness(given: readonly string[], reps: readonly string[]): number {
  const counts = new Map(reps.map((rep) => [rep, 0]));
  let most = 0;
  for (const rep of given) {
    counts.set(rep, (counts.get(rep) ?? 0) + 1);
    most = Math.max(most, Math.max(...counts.values()) - Math.min(...counts.values()));
  }
  return most;
}

/** The published sequence: each earns their weight, who has most is chosen and gives back what all earned. */
function wrongChoices(given: readonly string[], reps: readonly string[]): number {
  const credit = reps.map(() => 0);
  const weights = reps.map((rep) => WEIGHTS[rep] ?? 1);
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  let wrong = 0;
  for (const rep of given) {
    weights.forEach((weight, i) => (credit[i] = (credit[i] ?? 0) + weight));
    const best = credit.indexOf(Math.max(...credit));
    credit[best] = (credit[best] ?? 0) - all;
    if (reps[best] !== rep) wrong += 1;
  }
  return wrong;
}
