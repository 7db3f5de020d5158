import {
  type ActivityKind,
  bindCharter,
  type Catalogue,
  type Charter,
  type Field,
  kindsFrom,
  Rates,
  type ReadyCharter,
  type Spelling,
  spellingList,
  STANDARD_KINDS,
  takesAnyOption,
  type World,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { readOrganisation } from './organisation';
import {
  ActivityKindEntity,
  FieldEntity,
  OptionListEntity,
  OwnRegionEntity,
  RateEntity,
  ReferenceCurrencyEntity,
  SpellingEntity,
  TagEntity,
} from './entity/catalogue.entity';
import { CharterEntity } from './entity/charter.entity';
import { readTieRules, type TieRules } from './tie-rules';

/** The charter in force, and the world around it without turns and loads. */
export interface Governing {
  readonly number: number;
  readonly ready: ReadyCharter;
  readonly world: Omit<World, 'rota'>;
  /** The rules by which contact and company of a lead are found. */
  readonly ties: TieRules;
}

export async function readFields(manager: EntityManager): Promise<Catalogue> {
  const [fields, tags, lists, spellings, ownRegions] = await Promise.all([
    manager.find(FieldEntity, { order: { position: 'ASC', key: 'ASC' } }),
    manager.find(TagEntity, { order: { folded: 'ASC' } }),
    manager.find(OptionListEntity),
    manager.find(SpellingEntity, { order: { list: 'ASC', folded: 'ASC' } }),
    manager.find(OwnRegionEntity, { order: { name: 'ASC' } }),
  ]);
  const spelled = spellingsBy(spellings);
  const words = tags.map(({ word }) => word);
  const shared = new Map(lists.map((list) => [list.key, list]));
  return new Map(
    fields.map(({ optionList, position: _, ...own }): [string, Field] => {
      const { options, retiredOptions } = shared.get(optionList ?? '') ?? own;
      const offered = takesAnyOption(own) ? words : options;
      const field: Field = {
        ...{ ...own, options: offered, retiredOptions },
        ...(optionList === null ? {} : { optionList }),
        ...(own.type === 'region' && ownRegions.length > 0 ? { ownRegions } : {}),
      };
      const known = spelled.get(own.type === 'region' ? 'regions' : (spellingList(field, '') ?? ''));
      return [own.key, known === undefined ? field : { ...field, spellings: known }];
    }),
  );
}

/** Spellings by their list; those of the regions of all countries together. */
function spellingsBy(rows: readonly SpellingEntity[]): ReadonlyMap<string, Spelling[]> {
  const byList = new Map<string, Spelling[]>();
  for (const { list, written, means } of rows) {
    const key = list.startsWith('regions:') ? 'regions' : list;
    byList.set(key, [...(byList.get(key) ?? []), { written, means }]);
  }
  return byList;
}

/** The standard kinds of activities, as the admin renamed or retired them, and then the admin's own. */
export async function readKinds(manager: EntityManager): Promise<ActivityKind[]> {
  const own = await manager.find(ActivityKindEntity, { order: { position: 'ASC', key: 'ASC' } });
  const kinds = new Map(STANDARD_KINDS.map((kind) => [kind.key, kind]));
  for (const { key, name, by, retired } of own) kinds.set(key, { key, name, by, retired });
  return [...kinds.values()];
}

export async function readRates(manager: EntityManager): Promise<Rates> {
  const [rates, reference] = await Promise.all([
    manager.find(RateEntity),
    manager.findOneByOrFail(ReferenceCurrencyEntity, { id: 1 }),
  ]);
  return new Rates(
    rates.map(({ currency, fromDay, micro }) => ({ currency, from: fromDay, micro: Number(micro) })),
    reference.currency,
  );
}

export async function readWorldOutside(manager: EntityManager): Promise<Omit<World, 'rota'>> {
  const [fields, kinds, organisation, rates] = await Promise.all([
    readFields(manager),
    readKinds(manager),
    readOrganisation(manager),
    readRates(manager),
  ]);
  return {
    ...organisation,
    fields,
    kinds: kindsFrom(kinds),
    rates,
  };
}

/** The charter in force. `share` holds it in force until the transaction ends: enacting another waits. */
export async function charterInForce(manager: EntityManager, lock: 'none' | 'share'): Promise<CharterEntity> {
  const query = manager.createQueryBuilder(CharterEntity, 'charter').where({ inForce: true });
  const found = await (lock === 'share' ? query.setLock('pessimistic_read') : query).getOne();
  if (found === null) throw new Error('No charter is in force: the database was not set up');
  return found;
}

interface Kept {
  readonly stamp: string;
  readonly governing: Governing;
  /** Past charters that still govern records, by number; null: it names what is gone. */
  readonly past: Map<number, Governing | null>;
}

/** Cache: the charter and world last read, by connection pool, with their stamp. */
const kept = new WeakMap<object, Kept>();

/**
 * Reads what governs decisions, inside the deciding transaction.
 *
 * It is read and bound again only when its stamp has changed: triggers raise it with whatever is changed, by any server.
 */
export async function readGoverning(manager: EntityManager, lock: 'none' | 'share'): Promise<Governing> {
  const [row] = await manager.query<{ number: number; stamp: string | number }[]>(
    `SELECT c.number, (SELECT stamp FROM world_stamp WHERE id = 1) AS stamp FROM charter c WHERE c.in_force = 1${lock === 'share' ? ' LOCK IN SHARE MODE' : ''}`,
  );
  const stamp = `${row?.number ?? ''} ${row?.stamp ?? ''}`;
  const known = kept.get(manager.dataSource);
  if (row !== undefined && known?.stamp === stamp) return known.governing;
  const entity = await charterInForce(manager, lock);
  const world = await readWorldOutside(manager);
  const ties = await readTieRules(manager, world.fields);
  const governing = { number: entity.number ?? 0, ready: bindInForce(entity.body, world), world, ties };
  kept.set(manager.dataSource, { stamp, governing, past: new Map() });
  return governing;
}

/**
 * A charter that gave records their values, with the world as it is now: time alone is decided by it.
 *
 * @param inForce as {@link readGoverning} gave it in this transaction
 * @returns null: it names what is gone, so that nothing can be decided by it
 */
export async function governedBy(
  manager: EntityManager,
  number: number,
  inForce: Governing,
): Promise<Governing | null> {
  if (number === inForce.number) return inForce;
  const cache = kept.get(manager.dataSource);
  const past = cache?.governing === inForce ? cache.past : new Map<number, Governing | null>();
  const known = past.get(number);
  if (known !== undefined) return known;
  const entity = await manager.findOneBy(CharterEntity, { number });
  const binding = entity === null ? null : bindCharter(entity.body, inForce.world);
  const found = binding?.ok ? { ...inForce, number, ready: binding.ready } : null;
  past.set(number, found);
  return found;
}

/** The charter in force names something that is not there any more, so that nothing can be decided. */
export class CharterUnusable extends Error {}

function bindInForce(charter: Charter, world: Omit<World, 'rota'>): ReadyCharter {
  const binding = bindCharter(charter, world);
  if (binding.ok) return binding.ready;
  throw new CharterUnusable(
    `The charter in force can't be used: ${binding.problems.map((p) => `${p.path} ${p.message}`).join('; ')}`,
  );
}
