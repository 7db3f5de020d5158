import 'reflect-metadata';
import { fold, ImpactDesk, type PopulationRecord, showValue, TAGS, type Value } from '@relvik/core';
import { populationFromArrow, populationToArrow } from '@relvik/formats';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { DataSource } from 'typeorm';
import { KeptLeads } from '../packages/server/src/population/kept-leads';
import { UnroutedSubject } from '../packages/server/src/population/unrouted-population';
import type { FieldValueEntity } from '../packages/server/src/store/entity/field-value.entity';
import { openDatabase } from '../packages/server/src/store/open-database';
import { rowOf } from '../packages/server/src/store/value-row';
import { atMost, type Figure } from './measure';
import { CHARTER_JSON, FIELDS, ready, recordsOf, tiedValuesOf, tiesAt, world } from './setting';

async function insert(
  source: DataSource,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly unknown[])[],
): Promise<void> {
  for (let i = 0; i < rows.length; i += 4000)
    await source.query(`INSERT INTO \`${table}\` (${columns.map((name) => `\`${name}\``).join(', ')}) VALUES ?`, [
      rows.slice(i, i + 4000),
    ]);
}

/** The people that the charter of the bench routes to. */
async function storePeople(source: DataSource): Promise<void> {
  const { reps, teams, queues } = world();
  await insert(
    source,
    'person',
    ['key', 'name', 'email', 'password', 'role', 'may_take_leads', 'takes', 'retired'],
    [...reps.values()].map((rep) => [rep.key, rep.name, `${rep.key}@bench.example`, '-', 'rep', 1, rep.limit, 0]),
  );
  await insert(
    source,
    'team',
    ['key', 'name'],
    [...teams.values()].map(({ key, name }) => [key, name]),
  );
  await insert(
    source,
    'team_member',
    ['team', 'person', 'joined', 'leads'],
    [...teams.values()].flatMap(({ key, members }) => members.map((member, i) => [key, member, i, 0])),
  );
  await insert(
    source,
    'queue',
    ['key', 'name'],
    [...queues.values()].map(({ key, name }) => [key, name]),
  );
}

function rowsOf(id: number, values: ReadonlyMap<string, Value>): FieldValueEntity[] {
  return [...values].flatMap(([field, value]) => (value.kind === 'blank' ? [] : [rowOf(id, field, value)]));
}

/** The contacts and companies of the leads, with what conditions read of them. */
async function storeParties(
  source: DataSource,
  ties: readonly { readonly contact: number; readonly company: number }[],
  at: Date,
): Promise<void> {
  const own = { contact: 'email', company: 'identity' } as const;
  for (const kind of ['contact', 'company'] as const) {
    const ids = [...new Set(ties.map((one) => one[kind]))].sort((a, b) => a - b);
    await insert(
      source,
      'record',
      ['id', 'kind', 'created_at'],
      ids.map((id) => [id, kind, at]),
    );
    await insert(
      source,
      kind,
      ['id', 'version', 'name', own[kind], 'arrived', 'touched_at', 'touched', 'changes', 'admitted', 'rank_order'],
      ids.map((id) => [id, 1, `${kind} ${id}`, `${id}@bench.example`, at, at, 0, 0, 'no', -1e9]),
    );
    const values = ids.flatMap((id) => rowsOf(id, tiedValuesOf(kind, id)));
    await insert(
      source,
      'field_value',
      ['record', 'field', 'kind', 'shown', 'folded', 'number'],
      values.map((row) => [row.record, row.field, row.kind, row.shown, row.folded, row.number]),
    );
  }
}

export async function store(source: DataSource, records: readonly PopulationRecord[]): Promise<void> {
  const at = new Date('2026-01-01T00:00:00Z');
  await insert(
    source,
    'field',
    ['key', 'name', 'type', 'role', 'options', 'retired_options', 'retired', 'position', 'personal'],
    // Tags are a field of every set-up; their words are kept apart.
    [...FIELDS.values()]
      .filter(({ key }) => key !== TAGS)
      .map(({ key, name, type, options }, i) => {
        // Leads are known by their e-mail.
        const role = ['email', 'country'].includes(key) ? key : null;
        return [key, name, type, role, JSON.stringify(options), '[]', 0, i, 0];
      }),
  );
  const words = FIELDS.get(TAGS)?.options ?? [];
  await insert(
    source,
    'tag',
    ['folded', 'word'],
    words.map((word) => [fold(word), word]),
  );
  await insert(
    source,
    'rate',
    ['currency', 'from_day', 'micro'],
    [
      ['NOK', '2025-01-01', 85_470],
      ['SEK', '2025-01-01', 89_286],
      ['USD', '2025-01-01', 1_086_957],
      ['GBP', '2025-01-01', 854_701],
      ['CHF', '2025-01-01', 952_381],
    ],
  );
  await storePeople(source);
  const charter = { ...ready().charter, lastResort: { lead: 'operations' } };
  await insert(
    source,
    'charter',
    ['in_force', 'number', 'base', 'name', 'body', 'version', 'author', 'changed_at', 'enacted_at'],
    [[1, 1, 0, CHARTER_JSON.name, JSON.stringify(charter), 1, 'bench', at, at]],
  );
  await insert(
    source,
    'record',
    ['id', 'kind', 'created_at'],
    records.map(({ record }) => [Number(record.id), 'lead', at]),
  );
  const ties = new Map(records.map(({ record: { id } }) => [id, tiesAt(Number(id) - 1, records.length)]));
  await storeParties(source, [...ties.values()], at);
  const columns = [
    'id',
    'version',
    'name',
    'company',
    'status',
    'stage',
    'pipeline',
    'place',
    'since',
    'admitted',
    'rank_order',
    'looks',
    'arrived',
    'touched_at',
    'stage_since',
    'way',
    'charter',
    'decided_at',
    'test',
    'contact',
    'company_id',
  ];
  await insert(
    source,
    'lead',
    columns,
    records.map(({ record }) => [
      Number(record.id),
      1,
      `Person ${record.id}`,
      `Firm ${record.id}`,
      'open',
      'new',
      'leads',
      'not-handed-over',
      at,
      'unjudged',
      -1e9,
      '{}',
      new Date(record.arrived),
      new Date(record.arrived),
      new Date(record.arrived),
      'api',
      1,
      at,
      0,
      ties.get(record.id)?.contact,
      ties.get(record.id)?.company,
    ]),
  );
  const values = records.flatMap(({ record }) => rowsOf(Number(record.id), record.values));
  await insert(
    source,
    'field_value',
    ['record', 'field', 'kind', 'shown', 'folded', 'choices', 'number', 'currency', 'day', 'why'],
    values.map((row) => [
      row.record,
      row.field,
      row.kind,
      row.shown || showValue({ kind: 'blank' }),
      row.folded,
      row.choices,
      row.number,
      row.currency,
      row.day,
      row.why,
    ]),
  );
  await insert(
    source,
    'activity',
    ['record', 'kind', 'at'],
    records.flatMap(({ record }) =>
      record.activities.map(({ kind, at: when }) => [Number(record.id), kind, new Date(when)]),
    ),
  );
  await source.query('ANALYZE TABLE field_value, activity, `lead`');
}

/** 300 leads spread over all of them get a value, and an activity. */
async function touchLeads(source: DataSource, count: number, round: number): Promise<void> {
  const ids = Array.from({ length: 300 }, (_, i) => 1 + ((i * Math.floor(count / 300) + round) % count));
  const at = new Date();
  await source.query("UPDATE field_value SET number = number + 1 WHERE record IN (?) AND kind = 'number'", [ids]);
  await insert(
    source,
    'record_change',
    ['record', 'field', 'at', 'cause', 'by'],
    ids.map((id) => [id, 'employees', at, 'relvik', '']),
  );
  await insert(
    source,
    'activity',
    ['record', 'kind', 'at'],
    ids.map((id) => [id, 'mail_clicked', at]),
  );
}

/** S4's second half: from stored leads to the first impact, as when a draft is opened: database, Arrow, decoding, indexes, both charters. */
export async function storedFigures(count: number, rounds: number): Promise<Figure[]> {
  const { emptyDatabase, startMariadb } = await import('../scripts/mariadb.mjs');
  const folder = join(tmpdir(), 'relvik-bench-stored');
  const database = await startMariadb({ folder, fast: true });
  try {
    emptyDatabase(database.socket, 'stored');
    const source = await openDatabase({ socketPath: database.socket, user: 'root', password: '', database: 'stored' });
    console.log(`  storing ${count.toLocaleString('en')} leads …`);
    await store(source, recordsOf(count));
    const pair = {
      inForce: ready().charter,
      draft: ready((json) => Object.assign(json.scoreSets[0]?.signals[7] as object, { points: 9 })).charter,
    };
    const seen: number[] = [];
    const leads = new KeptLeads(source);
    const first = performance.now();
    await leads.bring(new Date());
    console.log(`  read for the first time in ${((performance.now() - first) / 1000).toFixed(2)} s`);
    for (let round = 0; round < rounds; round += 1) {
      // What happens between two drafts: a few hundred leads change.
      await touchLeads(source, count, round);
      const steps: string[] = [];
      const began = performance.now();
      let last = began;
      const step = (name: string): void => {
        const now = performance.now();
        steps.push(`${name} ${((now - last) / 1000).toFixed(2)}`);
        last = now;
      };
      const { population, meta } = await leads.bring(new Date());
      step('bring up to date');
      const bytes = populationToArrow(population, meta);
      step('write Arrow');
      const desk = new ImpactDesk(populationFromArrow(bytes).population, world(), meta.asOf, meta.past);
      step('decode');
      const answer = desk.impact(pair, { kind: 'came-in' });
      step('first impact');
      if (!answer.ok || answer.answer.size !== count || answer.answer.any === 0)
        throw new Error('The first impact is not what it should be');
      seen.push((performance.now() - began) / 1000);
      if (round === 0)
        console.log(
          `  ${(bytes.length / 2 ** 20).toFixed(1)} MB, ${(gzipSync(bytes).length / 2 ** 20).toFixed(1)} MB compressed`,
        );
      console.log(`  ${steps.join(', ')} s`);
    }
    const began = performance.now();
    const { population: companies } = await new UnroutedSubject(source, 'company').read(new Date());
    console.log(
      `  ${companies.size.toLocaleString('en')} companies of these leads put together in ${((performance.now() - began) / 1000).toFixed(2)} s`,
    );
    await source.destroy();
    return [
      atMost(
        'S4',
        `from ${count.toLocaleString('en')} stored leads to the first impact, 300 of them changed since the last draft`,
        1.5,
        's',
        seen,
      ),
    ];
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
