import type { NewOwnRegion } from '@relvik/contracts';
import {
  countryCode,
  countryOfRegion,
  type ListedSpelling,
  ownRegionCode,
  readRegion,
  spellingKey,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { OwnRegionEntity, SpellingEntity } from '../store/entity/catalogue.entity';
import { inTransaction } from '../store/transaction';
import type { Hand } from './hand';
import { correctWaiting } from './correct-by-spellings';
import { refuseIfNeededInForce } from './needed-in-force';

function listOf(code: string): string {
  return `regions:${countryOfRegion(code)}`;
}

/** The name of a region as a spelling of it: values that wait with it are corrected like those with any other. */
function nameOf(code: string, name: string): ListedSpelling {
  return { list: listOf(code), folded: spellingKey(name), written: name, means: code };
}

/** @throws Refused if a region of the country is called so already */
async function refuseTaken(manager: EntityManager, country: string, name: string, code: string | null): Promise<void> {
  const ownRegions = (await manager.find(OwnRegionEntity)).filter((one) => one.code !== code);
  const taken = readRegion(name, country, { ownRegions });
  if (taken.ok) throw Refused.invalid([{ path: '/name', message: `is the name of ${taken.code} already` }]);
}

/**
 * Adds a region under a country. Values that wait with its name are corrected.
 *
 * @returns its code
 */
export async function addOwnRegion(source: DataSource, { country, name }: NewOwnRegion, hand: Hand): Promise<string> {
  if (countryCode(country) !== country)
    throw Refused.invalid([{ path: '/country', message: `is not a country: ${country}` }]);
  const code = await inTransaction(source, async (manager) => {
    await refuseTaken(manager, country, name, null);
    const taken = (await manager.find(OwnRegionEntity)).map((one) => one.code);
    const fresh = ownRegionCode(country, name, taken);
    await manager.insert(OwnRegionEntity, { code: fresh, name });
    return fresh;
  });
  await correctWaiting(source, [nameOf(code, name)], hand);
  return code;
}

/** Gives a region of the admin's own another name; the one that it had stays a spelling of it. */
export async function renameOwnRegion(source: DataSource, code: string, name: string, hand: Hand): Promise<void> {
  await inTransaction(source, async (manager) => {
    const known = await manager.findOneBy(OwnRegionEntity, { code });
    if (known === null) throw Refused.notFound();
    await refuseTaken(manager, countryOfRegion(code), name, code);
    await manager.update(OwnRegionEntity, { code }, { name });
    if (spellingKey(known.name) !== spellingKey(name)) await manager.save(SpellingEntity, nameOf(code, known.name));
  });
  await correctWaiting(source, [nameOf(code, name)], hand);
}

/**
 * Takes a region of the admin's own out, with its spellings.
 *
 * @throws Refused while a record or the charter in force has it
 */
export async function removeOwnRegion(source: DataSource, code: string): Promise<void> {
  await inTransaction(source, async (manager) => {
    const known = await manager.findOneBy(OwnRegionEntity, { code });
    if (known === null) throw Refused.notFound();
    const [used] = await manager.query<{ n: number }[]>(
      "SELECT COUNT(*) AS n FROM field_value WHERE field IN (SELECT `key` FROM field WHERE type = 'region') AND folded = ?",
      [code.toLowerCase()],
    );
    if (Number(used?.n) > 0)
      throw Refused.as('region-in-use', { detail: `${used?.n} records have the region ${known.name}` });
    await manager.delete(OwnRegionEntity, { code });
    await manager.delete(SpellingEntity, { list: listOf(code), means: code });
    await refuseIfNeededInForce(manager);
  });
}
