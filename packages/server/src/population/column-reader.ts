import {
  choicesOf,
  CodeBuilder,
  type Column,
  dayNumber,
  type Field,
  fold,
  MoneyBuilder,
  NO_TEXT,
  NumberBuilder,
  splitChoices,
  type Withheld,
  YES_TEXT,
} from '@relvik/core';
import type { QueryRunner } from 'typeorm';
import { FOLDED_LENGTH, UNREADABLE } from '../store/value-row';
import { eachIn, type Holders } from './places';

/** What equal values are, and the ids of the records that have them. */
interface Group {
  readonly value: string | null;
  readonly number: string | null;
  readonly currency: string | null;
  readonly day: string | null;
  readonly length: string | number;
  readonly records: Buffer | null;
}

/** The rows that hold a day, so that the index of numbers gives them in order. */
const DAYS = 'number IS NULL AND currency IS NULL AND day IS NOT NULL';
/** Ids as bytes: they are read without ever being a text. */
const RECORDS = 'CONVERT(GROUP_CONCAT(record) USING binary) AS records';
const NEW_LINE = 10;
const AT = 64;

/** Reads columns from SQL: the database groups equal values, so that each comes once with the records that have it. */
export class ColumnReader {
  constructor(private readonly holders: Holders) {}

  /** @param withheld of an address only the domain is read, where the rest must not leave the server */
  async column(field: Field, withheld: Withheld | null, runner: QueryRunner): Promise<Column> {
    switch (field.type) {
      case 'number':
        return this.numbers(field, 'number IS NOT NULL', 'number', Number, runner);
      case 'date':
        return this.numbers(field, DAYS, 'day', dayNumber, runner);
      case 'money':
        return this.money(field, runner);
      case 'yes-no':
        return this.yesNo(field, runner);
      case 'email':
        return withheld === null ? this.texts(field, runner) : this.domains(field, runner);
      case 'text':
      case 'choice':
      case 'choices':
      case 'country':
      case 'region':
      case 'postal-code':
        return this.texts(field, runner);
    }
  }

  private groups(runner: QueryRunner, sql: string, field: Field): Promise<Group[]> {
    return runner.query(sql, [field.key]) as Promise<Group[]>;
  }

  private async eachUnreadable(field: Field, runner: QueryRunner, visit: (place: number) => void): Promise<void> {
    const sql = `SELECT ${RECORDS} FROM field_value WHERE field = ? AND ${UNREADABLE}`;
    for (const { records } of await this.groups(runner, sql, field)) eachIn(this.holders, records, visit);
  }

  private async texts(field: Field, runner: QueryRunner): Promise<Column> {
    const codes = new CodeBuilder(this.holders.size);
    const sql = `SELECT folded AS value, CHAR_LENGTH(folded) AS length, ${RECORDS} FROM field_value WHERE field = ? AND folded IS NOT NULL GROUP BY folded`;
    let cut = false;
    for (const { value, length, records } of await this.groups(runner, sql, field)) {
      if (Number(length) >= FOLDED_LENGTH) cut = true;
      else
        eachIn(this.holders, records, (place) => {
          codes.add(place, value ?? '');
        });
    }
    if (cut)
      await this.eachLong(field, runner, (place, folded) => {
        codes.add(place, folded);
      });
    await this.eachUnreadable(field, runner, (place) => {
      codes.cannotRead(place);
    });
    return codes.build();
  }

  /** Longer texts than the folded column keeps are folded from what they say. */
  private async eachLong(
    field: Field,
    runner: QueryRunner,
    visit: (place: number, folded: string) => void,
  ): Promise<void> {
    const rows = (await runner.query(
      `SELECT record, shown FROM field_value WHERE field = ? AND CHAR_LENGTH(folded) = ${FOLDED_LENGTH}`,
      [field.key],
    )) as { record: string | number; shown: string }[];
    for (const { record, shown } of rows) {
      const folded = field.type === 'choices' ? choicesOf(splitChoices(shown)).folded : fold(shown);
      this.holders.visit(Number(record), (place) => {
        visit(place, folded);
      });
    }
  }

  /** Of an address only the domain; equal ones are too few to be grouped by the database. */
  private async domains(field: Field, runner: QueryRunner): Promise<Column> {
    const codes = new CodeBuilder(this.holders.size);
    const sql = `SELECT MAX(CHAR_LENGTH(folded)) AS length, CONVERT(GROUP_CONCAT(record, '@', SUBSTRING_INDEX(folded, '@', -1) SEPARATOR '\\n') USING binary) AS records
      FROM field_value WHERE field = ? AND folded IS NOT NULL`;
    const [all] = await this.groups(runner, sql, field);
    const list = all?.records ?? Buffer.alloc(0);
    for (let begin = 0; begin < list.length;) {
      const line = list.indexOf(NEW_LINE, begin);
      const end = line < 0 ? list.length : line;
      const at = list.indexOf(AT, begin);
      const domain = list.toString('utf8', at, end);
      this.holders.visit(Number(list.toString('latin1', begin, at)), (place) => {
        codes.add(place, domain);
      });
      begin = end + 1;
    }
    if (Number(all?.length) >= FOLDED_LENGTH)
      await this.eachLong(field, runner, (place, folded) => {
        codes.add(place, folded.slice(folded.lastIndexOf('@')));
      });
    await this.eachUnreadable(field, runner, (place) => {
      codes.cannotRead(place);
    });
    return codes.build();
  }

  private async yesNo(field: Field, runner: QueryRunner): Promise<Column> {
    const codes = new CodeBuilder(this.holders.size);
    const sql = `SELECT number, ${RECORDS} FROM field_value WHERE field = ? AND number IS NOT NULL GROUP BY number`;
    for (const { number, records } of await this.groups(runner, sql, field))
      eachIn(this.holders, records, (place) => {
        codes.add(place, Number(number) === 1 ? YES_TEXT : NO_TEXT);
      });
    await this.eachUnreadable(field, runner, (place) => {
      codes.cannotRead(place);
    });
    return codes.build();
  }

  private async numbers(
    field: Field,
    which: string,
    column: 'number' | 'day',
    numberOf: (value: string) => number,
    runner: QueryRunner,
  ): Promise<Column> {
    const numbers = new NumberBuilder(this.holders.size);
    const sql = `SELECT \`${column}\` AS value, ${RECORDS} FROM field_value WHERE field = ? AND ${which} GROUP BY \`${column}\``;
    for (const { value, records } of await this.groups(runner, sql, field)) {
      const number = numberOf(value ?? '');
      eachIn(this.holders, records, (place) => {
        numbers.add(place, number);
      });
    }
    await this.eachUnreadable(field, runner, (place) => {
      numbers.cannotRead(place);
    });
    return numbers.build();
  }

  private async money(field: Field, runner: QueryRunner): Promise<Column> {
    const amounts = new MoneyBuilder(this.holders.size);
    const sql = `SELECT number, currency, day, ${RECORDS} FROM field_value WHERE field = ? AND currency IS NOT NULL GROUP BY number, currency, day`;
    for (const { number, currency, day, records } of await this.groups(runner, sql, field)) {
      const money = { minor: Number(number), currency: currency ?? '', enteredOn: day ?? '' };
      eachIn(this.holders, records, (place) => {
        amounts.add(place, money);
      });
    }
    await this.eachUnreadable(field, runner, (place) => {
      amounts.cannotRead(place);
    });
    return amounts.build();
  }
}
