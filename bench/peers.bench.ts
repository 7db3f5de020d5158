import {
  type Condition,
  countActivities,
  countSilence,
  gradeOf,
  type MovingRecord,
  type PopulationRecord,
  type Resident,
  silentSince,
  territoryOf,
  toMicro,
  total,
  entryOf,
  addressOf,
} from '@relvik/core';
import { type Connection, createConnection } from 'mysql2/promise';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { onlySet, type Outcome } from './judge-one';
import { atLeast, type Figure, letGo, median, timeOf } from './measure';
import { FEEL } from './peers/feel';
import { JSON_LOGIC } from './peers/json-logic';
import type { Peer } from './peers/peer';
import { plainFacts, type PlainFacts } from './peers/plain-facts';
import { RULES_ENGINE } from './peers/rules-engine';
import { charterAsSql, fillTables } from './peers/sql';
import { AS_OF, ATTRIBUTES, FIELDS, RATES, ready, recordsOf } from './setting';
import { fullSweep, outcomeAt, residentOf } from './sweep.bench';

interface Judged {
  readonly record: MovingRecord;
  readonly facts: PlainFacts;
}

const CHARTER = ready();
const GATES = CHARTER.charter.gates;
const ROUTES = CHARTER.charter.streams.flatMap((stream) => stream.routes);

/** The way of one record with the library for every condition, and our arithmetic for fade and bands. */
async function walk(
  answersOf: { readonly signals: Answers; readonly rest: Answers },
  list: readonly Judged[],
): Promise<Outcome[]> {
  const signals = await answersOf.signals(list.map(({ facts }) => facts));
  const { charter } = CHARTER;
  const scoreSet = onlySet(CHARTER);
  const graded = list.map(({ record, facts }, i) => {
    const fit = total(
      ATTRIBUTES.flatMap(({ points }, s) => (signals[i]?.[s] ? [toMicro(points)] : [])),
      scoreSet.fit,
    );
    const micros = scoreSet.signals.flatMap((signal) =>
      signal.kind === 'activity'
        ? [countActivities(signal, record.activities, AS_OF).micro]
        : signal.kind === 'silence'
          ? [countSilence(signal, silentSince(scoreSet.kinds, record.activities, record.arrived, AS_OF), AS_OF).micro]
          : [],
    );
    const engagement = total(micros, scoreSet.engagement);
    const grade = gradeOf(scoreSet.grid, fit.score, engagement.score);
    const at = territoryOf(
      CHARTER.coverage,
      null,
      addressOf(CHARTER.charter.territories, (field) => record.values.get(field) ?? { kind: 'blank' }),
    );
    const known = {
      ...facts,
      rank: fit.score + engagement.score,
      verdict: grade.verdict,
      territory: 'territory' in at ? at.territory : null,
    };
    return { fit: fit.score, engagement: engagement.score, known };
  });
  const rest = await answersOf.rest(graded.map(({ known }) => known));
  return graded.map(({ fit, engagement }, i) => {
    const row = rest[i] ?? [];
    let stage = entryOf(charter, 'lead');
    for (let moved = true; moved;) {
      const gate = GATES.findIndex((one, g) => one.from === stage && row[g]);
      moved = gate >= 0;
      if (moved) stage = GATES[gate]?.to ?? stage;
    }
    const first = ROUTES.findIndex((_, r) => row[GATES.length + r]);
    return { fit, engagement, stage, route: stage !== 'qualified' ? null : (ROUTES[first]?.key ?? 'none') };
  });
}

type Answers = (facts: readonly PlainFacts[]) => Promise<boolean[][]>;

async function timeOfAsync(work: () => Promise<unknown>): Promise<number> {
  const began = process.hrtime.bigint();
  await work();
  return Number(process.hrtime.bigint() - began) / 1e6;
}

/** S1: a full sweep of so many records against libraries and SQL on the same work, the results held against each other. */
export async function peerFigures(count: number, rounds: number): Promise<Figure[]> {
  const { resident, sample: judgeable, sql } = await prepare(count);
  letGo();
  const swept = fullSweep(resident, CHARTER);
  for (let i = 0; i < 5; i += 1) fullSweep(resident, CHARTER);
  const sweepTime = (): number => timeOf(() => fullSweep(resident, CHARTER));
  const figures: Figure[] = [];
  const name = count.toLocaleString('en');

  const compare = (what: string, rows: readonly Outcome[]): void => {
    rows.forEach((row, i) => {
      const ours = outcomeAt(swept, i);
      if (JSON.stringify(row) !== JSON.stringify(ours))
        throw new Error(`${what} and the sweep differ on record ${i}: ${JSON.stringify(row)} ${JSON.stringify(ours)}`);
    });
  };

  const signalConditions = ATTRIBUTES.map(({ when }) => when);
  const restConditions: Condition[] = [...GATES.map((gate) => gate.when), ...ROUTES.map((route) => route.when)];
  const peers: readonly (readonly [Peer, number, number])[] = [
    [RULES_ENGINE, 2000, 400],
    [JSON_LOGIC, 200, 2000],
    [FEEL, 1500, 250],
  ];
  for (const [peer, goal, size] of peers) {
    const answers = { signals: peer.prepare(signalConditions), rest: peer.prepare(restConditions) };
    const sample = judgeable.slice(0, size).map(({ one, facts }) => ({ record: one.record, facts }));
    compare(peer.name, await walk(answers, sample));
    const seen: number[] = [];
    for (let round = 0; round < rounds; round += 1) {
      const took = (await timeOfAsync(() => walk(answers, sample))) * (count / size);
      seen.push(took / sweepTime());
    }
    console.log(`  ${peer.name}: ${median(seen).toFixed(0)}x`);
    figures.push(
      atLeast('S1', `full sweep of ${name} against ${peer.name} (timed on ${size.toLocaleString('en')})`, goal, seen),
    );
  }

  try {
    const { connection } = sql;
    const statement = charterAsSql();
    const [rows] = await connection.query({ sql: `${statement} ORDER BY id`, rowsAsArray: true });
    const apart = (rows as [number, number, number, string, string | null][]).filter(
      ([, fit, engagement, stage, route], i) => {
        const ours = outcomeAt(swept, i);
        const theirs = { fit, engagement, stage: stage as Outcome['stage'], route };
        if (JSON.stringify(theirs) === JSON.stringify(ours)) return false;
        if (theirs.fit === ours.fit && Math.abs(theirs.engagement - (ours.engagement ?? NaN)) <= 1) return true;
        throw new Error(`SQL and the sweep differ on record ${i}: ${JSON.stringify(theirs)} ${JSON.stringify(ours)}`);
      },
    ).length;
    // Its POW is a double's: where a sum lies on a half, the last bit may tip it over.
    if (apart > count / 10_000) throw new Error(`SQL and the sweep differ on ${apart} records`);
    console.log(`  SQL: ${apart} of ${count} differ by the last bit of POW`);
    const seen: number[] = [];
    for (let round = 0; round < rounds; round += 1) {
      const took = await timeOfAsync(async () => {
        await connection.query(`CREATE TEMPORARY TABLE result AS ${statement}`);
      });
      await connection.query('DROP TEMPORARY TABLE result');
      seen.push(took / sweepTime());
    }
    figures.push(atLeast('S1', `full sweep of ${name} against one SQL statement in MariaDB`, 40, seen));
  } finally {
    await sql.stop();
  }
  return figures;
}

interface Prepared {
  readonly resident: Resident;
  /** The first few thousand; the rest is let go, as in a browser, where there are columns and no records. */
  readonly sample: readonly { readonly one: PopulationRecord<MovingRecord>; readonly facts: PlainFacts }[];
  readonly sql: { readonly connection: Connection; readonly stop: () => Promise<void> };
}

async function prepare(count: number): Promise<Prepared> {
  console.log(`  making ${count.toLocaleString('en')} records that every peer can judge …`);
  const judgeable: { readonly one: PopulationRecord<MovingRecord>; readonly facts: PlainFacts }[] = [];
  for (const one of recordsOf(Math.round(count * 1.02))) {
    const facts = plainFacts(one.record, FIELDS.keys(), RATES, 'EUR');
    if (facts !== null && judgeable.length < count) judgeable.push({ one, facts });
  }
  const resident = residentOf(judgeable.map(({ one }) => one));
  const { emptyDatabase, startMariadb } = await import('../scripts/mariadb.mjs');
  const folder = join(tmpdir(), 'relvik-bench-database');
  const database = await startMariadb({ folder, fast: true });
  emptyDatabase(database.socket, 'bench');
  const connection = await createConnection({ socketPath: database.socket, user: 'root', database: 'bench' });
  console.log('  filling MariaDB …');
  await fillTables(
    connection,
    judgeable.map(({ one, facts }) => ({
      id: one.record.id,
      arrived: one.record.arrived,
      facts,
      activities: one.record.activities,
    })),
  );
  await connection.query('SET tmp_memory_table_size = 1073741824, max_heap_table_size = 1073741824');
  const stop = async (): Promise<void> => {
    await connection.end();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  };
  return { resident, sample: judgeable.slice(0, 2000), sql: { connection, stop } };
}
