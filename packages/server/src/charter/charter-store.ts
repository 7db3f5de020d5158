import {
  bindCharter,
  type Catalogue,
  type Charter,
  type Field,
  Rates,
  type ReadyCharter,
  type World,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { readOrganisation } from '../people/people-store';
import { FieldEntity, RateEntity } from '../record/catalogue.entity';
import { CharterEntity } from './charter.entity';

/** The charter in force, and the world around it without turns and loads. */
export interface Governing {
  readonly number: number;
  readonly ready: ReadyCharter;
  readonly world: Omit<World, 'rota'>;
}

export async function readFields(manager: EntityManager): Promise<Catalogue> {
  const fields = await manager.find(FieldEntity, { order: { position: 'ASC', key: 'ASC' } });
  return new Map(
    fields.map(({ key, name, type, options, retired }): [string, Field] => [
      key,
      { key, name, type, options, retired },
    ]),
  );
}

export async function readWorldOutside(manager: EntityManager): Promise<Omit<World, 'rota'>> {
  const [fields, organisation, rates] = await Promise.all([
    readFields(manager),
    readOrganisation(manager),
    manager.find(RateEntity),
  ]);
  return {
    ...organisation,
    fields,
    rates: new Rates(rates.map(({ currency, fromDay, micro }) => ({ currency, from: fromDay, micro: Number(micro) }))),
  };
}

/** The charter in force. `share` holds it in force until the transaction ends: enacting another waits. */
export async function charterInForce(manager: EntityManager, lock: 'none' | 'share'): Promise<CharterEntity> {
  const query = manager.createQueryBuilder(CharterEntity, 'charter').where({ inForce: true });
  const found = await (lock === 'share' ? query.setLock('pessimistic_read') : query).getOne();
  if (found === null) throw new Error('No charter is in force: the database was not set up');
  return found;
}

/** Reads what governs decisions, inside the deciding transaction. */
export async function readGoverning(manager: EntityManager, lock: 'none' | 'share'): Promise<Governing> {
  const entity = await charterInForce(manager, lock);
  const world = await readWorldOutside(manager);
  return { number: entity.number ?? 0, ready: bindInForce(entity.body, world), world };
}

function bindInForce(charter: Charter, world: Omit<World, 'rota'>): ReadyCharter {
  const binding = bindCharter(charter, world.fields, world);
  if (binding.ok) return binding.ready;
  throw new Error(
    `The charter in force can't be used: ${binding.problems.map((p) => `${p.path} ${p.message}`).join('; ')}`,
  );
}
