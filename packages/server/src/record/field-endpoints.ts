import {
  type ChangeField,
  changeFieldSchema,
  type Correct,
  type Corrected,
  correctSchema,
  type FieldRow,
  type NewField,
  newFieldSchema,
  type NewRate,
  newRateSchema,
} from '@relvik/contracts';
import { bindCharter, type Field, RESERVED_KEYS } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { type Endpoint, read, userOf, type Who } from '../api/endpoint';
import { Refused } from '../api/refused';
import { charterInForce, readFields, readWorldOutside } from '../charter/charter-store';
import { FieldEntity } from './catalogue.entity';
import { FieldValueEntity } from './field-value.entity';
import { correctTogether, giveRate, unjudgedRows } from './unjudged';

const ADMIN: readonly Who[] = ['admin'];

/** Fields of leads. They are rows, so that what an admin adds is usable at once, everywhere. */
export function fieldEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;

  async function fields(): Promise<FieldRow[]> {
    const counts = await manager
      .createQueryBuilder(FieldValueEntity, 'value')
      .select('value.field', 'field')
      .addSelect('COUNT(*)', 'filled')
      .addSelect("SUM(value.kind = 'unreadable')", 'unreadable')
      .groupBy('value.field')
      .getRawMany<{ field: string; filled: string; unreadable: string }>();
    const countOf = new Map(counts.map((row) => [row.field, row]));
    return [...(await readFields(manager)).values()].map((field) => ({
      ...field,
      filled: Number(countOf.get(field.key)?.filled ?? 0),
      unreadable: Number(countOf.get(field.key)?.unreadable ?? 0),
    }));
  }

  /** What the charter in force asks for stays: without it no lead could be decided. */
  async function refuseIfNeeded(changed: Field): Promise<void> {
    const { body: charter } = await charterInForce(manager, 'none');
    const world = await readWorldOutside(manager);
    const binding = bindCharter(charter, { ...world, fields: new Map([...world.fields, [changed.key, changed]]) });
    if (binding.ok) return;
    const places = binding.problems.map(({ path, message }) => `${path} ${message}`);
    throw Refused.conflict(
      'The charter in force needs it',
      `Change the charter first: ${places.slice(0, 5).join('; ')}`,
    );
  }

  return [
    {
      method: 'get',
      path: '/api/unjudged',
      who: ADMIN,
      handle: async () => ({ body: await unjudgedRows(manager) }),
    },
    {
      method: 'post',
      path: '/api/unjudged',
      who: ADMIN,
      async handle(asked) {
        const correct = await read<Correct>(correctSchema, asked.body);
        const corrected = await correctTogether(source, correct, { name: userOf(asked).name, at: asked.now });
        const answer: Corrected = { corrected, rows: await unjudgedRows(manager) };
        return { body: answer };
      },
    },
    {
      method: 'post',
      path: '/api/rates',
      who: ADMIN,
      async handle(asked) {
        const rate = await read<NewRate>(newRateSchema, asked.body);
        const corrected = await giveRate(source, rate, asked.now);
        const answer: Corrected = { corrected, rows: await unjudgedRows(manager) };
        return { body: answer };
      },
    },
    { method: 'get', path: '/api/fields', who: ADMIN, handle: async () => ({ body: await fields() }) },
    {
      method: 'post',
      path: '/api/fields',
      who: ADMIN,
      async handle({ body }) {
        const { key, name, type, options } = await read<NewField>(newFieldSchema, body);
        const known = await readFields(manager);
        if (RESERVED_KEYS.has(key))
          throw Refused.invalid([{ path: '/key', message: `is kept for what Relvik computes: ${key}` }]);
        if (known.has(key))
          throw Refused.invalid([{ path: '/key', message: 'stands already; a key is never used again' }]);
        if (type === 'choice' && options.length === 0)
          throw Refused.invalid([{ path: '/options', message: 'needs at least one option' }]);
        const row = {
          key,
          name,
          type,
          options: type === 'choice' ? [...options] : [],
          retired: false,
          position: ((await manager.maximum(FieldEntity, 'position')) ?? 0) + 1,
        };
        await manager.insert(FieldEntity, row);
        return { status: 201, body: await fields() };
      },
    },
    {
      method: 'patch',
      path: '/api/fields/:key',
      who: ADMIN,
      async handle({ body, params }) {
        const { name, options, retired } = await read<ChangeField>(changeFieldSchema, body);
        const field = (await readFields(manager)).get(params['key'] ?? '');
        if (field === undefined) throw Refused.notFound();
        if (field.type === 'choice' && options.length === 0)
          throw Refused.invalid([{ path: '/options', message: 'needs at least one option' }]);
        const after = { name, retired, options: field.type === 'choice' ? [...options] : [] };
        await refuseIfNeeded({ ...field, ...after });
        await manager.update(FieldEntity, { key: field.key }, after);
        return { body: await fields() };
      },
    },
  ];
}
