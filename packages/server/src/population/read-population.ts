import {
  CodeBuilder,
  type Column,
  dayNumber,
  type Events,
  type Field,
  fold,
  NO_TEXT,
  noBits,
  NumberBuilder,
  type Population,
  type Rates,
  setBit,
  type Standing,
  type Withheld,
  YES_TEXT,
} from '@relvik/core';
import type { PopulationMeta } from '@relvik/formats';
import type { DataSource, EntityManager, QueryRunner } from 'typeorm';
import { charterInForce, readWorldOutside } from '../charter/charter-store';

/** Fields that tell who it is: they stay on the server. */
const WITHHELD: ReadonlyMap<string, Withheld> = new Map([
  ['name', 'all'],
  ['phone', 'all'],
]);
/** As many characters as the folded column keeps. */
const FOLDED = 190;
/** Activities are read for so many records at a time, so that no answer exceeds a packet. */
const STRETCH = 50_000;

export function withheldOf(field: Field): Withheld | null {
  return WITHHELD.get(field.key) ?? (field.type === 'email' ? 'all but the domain' : null);
}

type Row = Readonly<Record<string, string | null>>;

/** Reads columns from SQL: the database groups equal values, so that each comes once with the records that have it. */
class Reader {
  private readonly placeOf: ReadonlyMap<number, number>;

  constructor(
    private readonly runner: QueryRunner,
    private readonly ids: Uint32Array,
    private readonly rates: Rates,
    private readonly base: string,
  ) {
    this.placeOf = new Map([...ids].map((id, place) => [id, place]));
  }

  private get size(): number {
    return this.ids.length;
  }

  private each(list: string | null, visit: (place: number) => void): void {
    for (const id of (list ?? '').split(',')) {
      const place = this.placeOf.get(Number(id));
      if (place !== undefined) visit(place);
    }
  }

  private query(sql: string, values: unknown[]): Promise<Row[]> {
    return this.runner.query(sql, values) as Promise<Row[]>;
  }

  private unreadable(field: Field): Promise<Row[]> {
    return this.query(
      "SELECT GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND kind = 'unreadable'",
      [field.key],
    );
  }

  async column(field: Field): Promise<Column> {
    switch (field.type) {
      case 'number':
        return this.numbers(field, 'number', Number);
      case 'date':
        return this.numbers(field, 'day', dayNumber);
      case 'money':
        return this.money(field);
      case 'yes-no':
        return this.codes(
          field,
          "SELECT IF(number = 1, 'yes', 'no') AS value, GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND number IS NOT NULL GROUP BY number",
          (value) => (value === 'yes' ? YES_TEXT : NO_TEXT),
        );
      case 'email':
        return this.codes(
          field,
          "SELECT CONCAT('@', SUBSTRING_INDEX(folded, '@', -1)) AS value, GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND folded IS NOT NULL GROUP BY 1",
          (value) => value,
        );
      case 'text':
      case 'choice':
      case 'country':
        return this.codes(
          field,
          `SELECT folded AS value, GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND CHAR_LENGTH(folded) < ${FOLDED} GROUP BY folded`,
          (value) => value,
        );
    }
  }

  private async codes(field: Field, sql: string, textOf: (value: string) => string): Promise<Column> {
    const codes = new CodeBuilder(this.size);
    for (const { value, records } of await this.query(sql, [field.key]))
      this.each(records ?? null, (place) => {
        codes.add(place, textOf(value ?? ''));
      });
    // Longer texts than the index keeps are folded from what they say.
    if (field.type === 'text')
      for (const { record, shown } of await this.query(
        `SELECT record, shown FROM field_value WHERE field = ? AND CHAR_LENGTH(folded) = ${FOLDED}`,
        [field.key],
      ))
        this.each(String(record), (place) => {
          codes.add(place, fold(shown ?? ''));
        });
    for (const { records } of await this.unreadable(field))
      this.each(records ?? null, (place) => {
        codes.cannotRead(place);
      });
    return codes.build();
  }

  private async numbers(field: Field, column: 'number' | 'day', numberOf: (value: string) => number): Promise<Column> {
    const numbers = new NumberBuilder(this.size);
    const rows = await this.query(
      `SELECT \`${column}\` AS value, GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND \`${column}\` IS NOT NULL GROUP BY \`${column}\``,
      [field.key],
    );
    for (const { value, records } of rows) {
      const number = numberOf(value ?? '');
      this.each(records ?? null, (place) => {
        numbers.add(place, number);
      });
    }
    for (const { records } of await this.unreadable(field))
      this.each(records ?? null, (place) => {
        numbers.cannotRead(place);
      });
    return numbers.build();
  }

  private async money(field: Field): Promise<Column> {
    const amounts = new NumberBuilder(this.size);
    const currencies = new CodeBuilder(this.size);
    const rows = await this.query(
      "SELECT number, currency, day, GROUP_CONCAT(record) AS records FROM field_value WHERE field = ? AND kind = 'money' GROUP BY number, currency, day",
      [field.key],
    );
    for (const { number, currency, day, records } of rows) {
      const money = { minor: Number(number), currency: currency ?? '', enteredOn: day ?? '' };
      const amount = this.rates.toBase(money, this.base);
      this.each(records ?? null, (place) => {
        currencies.add(place, money.currency);
        if (amount === null) amounts.cannotRead(place);
        else amounts.add(place, amount);
      });
    }
    for (const { records } of await this.unreadable(field))
      this.each(records ?? null, (place) => {
        amounts.cannotRead(place);
        currencies.cannotRead(place);
      });
    return { kind: 'money', amounts: amounts.build(), currencies: currencies.build() };
  }

  async events(): Promise<Map<string, Events>> {
    const found = new Map<string, { place: number; at: number }[]>();
    const last = this.ids.at(-1) ?? 0;
    for (let from = 0; from <= last; from += STRETCH) {
      const rows = await this.query(
        `SELECT kind, GROUP_CONCAT(record, ':', TIMESTAMPDIFF(MICROSECOND, '1970-01-01', at) DIV 1000) AS happened
           FROM activity WHERE record > ? AND record <= ? GROUP BY kind`,
        [from, from + STRETCH],
      );
      for (const { kind, happened } of rows) {
        const list = found.get(kind ?? '') ?? [];
        found.set(kind ?? '', list);
        for (const pair of (happened ?? '').split(',')) {
          const colon = pair.indexOf(':');
          const place = this.placeOf.get(Number(pair.slice(0, colon)));
          if (place !== undefined) list.push({ place, at: Number(pair.slice(colon + 1)) });
        }
      }
    }
    return new Map([...found].map(([kind, list]) => [kind, this.eventsFrom(list)]));
  }

  private eventsFrom(list: { place: number; at: number }[]): Events {
    list.sort((a, b) => a.place - b.place || b.at - a.at);
    const starts = new Uint32Array(this.size + 1);
    for (const { place } of list) starts[place + 1] = (starts[place + 1] as number) + 1;
    for (let i = 1; i < starts.length; i += 1) starts[i] = (starts[i] as number) + (starts[i - 1] as number);
    return { starts, at: Float64Array.from(list, ({ at }) => at) };
  }
}

interface LeadColumns {
  readonly id: string | number;
  readonly arrived: Date;
  readonly closed_at: Date | null;
  readonly touched_at: Date;
  readonly status: string;
  readonly stage: string;
  readonly place: string;
  readonly owner: string | null;
  readonly queue: string | null;
  readonly pin: string | null;
  readonly looks: string;
}

function standingOf(leads: readonly LeadColumns[]): Standing {
  const size = leads.length;
  const known = new Map<string, number>();
  const code = (key: string | null): number => {
    if (key === null) return 0;
    const at = known.get(key) ?? known.size + 1;
    known.set(key, at);
    return at;
  };
  const standing = {
    stage: new Uint32Array(size),
    owner: new Uint32Array(size),
    queue: new Uint32Array(size),
    pin: new Uint32Array(size),
    open: noBits(size),
    inBay: noBits(size),
    looks: new Map<string, Uint32Array>(),
  };
  leads.forEach((lead, i) => {
    standing.stage[i] = code(lead.stage);
    standing.owner[i] = code(lead.place === 'owner' ? lead.owner : null);
    standing.queue[i] = code(lead.place === 'queue' ? lead.queue : null);
    standing.pin[i] = code(lead.pin);
    if (lead.status === 'open') setBit(standing.open, i);
    if (lead.place === 'bay') setBit(standing.inBay, i);
    for (const [gate, truth] of Object.entries(JSON.parse(lead.looks) as Record<string, boolean>)) {
      if (!truth) continue;
      const bits = standing.looks.get(gate) ?? noBits(size);
      standing.looks.set(gate, bits);
      setBit(bits, i);
    }
  });
  return { ...standing, keys: [...known.keys()] };
}

/** Tells a population apart from later ones: whatever changes a record adds to one of these. */
async function versionIn(runner: QueryRunner): Promise<string> {
  const [row] = (await runner.query(
    'SELECT (SELECT COALESCE(MAX(id), 0) FROM decision) AS d, (SELECT COALESCE(MAX(id), 0) FROM record_change) AS c, (SELECT COALESCE(MAX(id), 0) FROM activity) AS a',
  )) as Row[];
  return `${row?.['d'] ?? 0}-${row?.['c'] ?? 0}-${row?.['a'] ?? 0}`;
}

async function inSnapshot<T>(source: DataSource, read: (runner: QueryRunner) => Promise<T>): Promise<T> {
  const runner = source.createQueryRunner();
  await runner.connect();
  try {
    await runner.query('SET SESSION group_concat_max_len = 1073741824');
    await runner.startTransaction('REPEATABLE READ');
    const answer = await read(runner);
    await runner.commitTransaction();
    return answer;
  } catch (error) {
    // The connection goes back to the pool: no transaction may stay open on it.
    if (runner.isTransactionActive) await runner.rollbackTransaction();
    throw error;
  } finally {
    await runner.release();
  }
}

/** Whether there are more leads than so many; those beyond aren't counted. */
export async function hasMoreThan(manager: EntityManager, most: number): Promise<boolean> {
  const [row] = await manager.query<{ found: string | number }[]>(
    'SELECT COUNT(*) AS found FROM (SELECT 1 FROM `lead` LIMIT ?) AS some',
    [most + 1],
  );
  return Number(row?.found) > most;
}

export function populationVersion(source: DataSource): Promise<string> {
  return inSnapshot(source, versionIn);
}

/** All leads by columns, as they are at one moment, without what tells who they are. */
export function readPopulation(
  source: DataSource,
  now: Date,
): Promise<{ readonly population: Population; readonly meta: PopulationMeta }> {
  return inSnapshot(source, async (runner) => {
    const { baseCurrency } = (await charterInForce(runner.manager, 'none')).body;
    const { fields, rates } = await readWorldOutside(runner.manager);
    const leads = (await runner.query(
      'SELECT id, arrived, closed_at, touched_at, status, stage, place, owner, queue, pin, looks FROM `lead` ORDER BY id',
    )) as LeadColumns[];
    const ids = Uint32Array.from(leads, (lead) => Number(lead.id));
    const reader = new Reader(runner, ids, rates, baseCurrency);
    const columns = new Map<string, Column>();
    const withheld = new Map<string, Withheld>();
    for (const field of fields.values()) {
      const kept = withheldOf(field);
      if (kept !== null) withheld.set(field.key, kept);
      if (kept !== 'all') columns.set(field.key, await reader.column(field));
    }
    const population: Population = {
      size: leads.length,
      ids,
      arrived: Float64Array.from(leads, (lead) => lead.arrived.getTime()),
      closed: Float64Array.from(leads, (lead) => lead.closed_at?.getTime() ?? NaN),
      touched: Float64Array.from(leads, (lead) => lead.touched_at.getTime()),
      columns,
      events: await reader.events(),
      standing: standingOf(leads),
      withheld,
      given: new Map(),
    };
    return { population, meta: { asOf: now.getTime(), version: await versionIn(runner), baseCurrency } };
  });
}
