import { type Test, testsIn } from '../condition/condition';
import type { TerritoryKey } from '../record/keys';
import { type Ground, groundsOf } from '../territory/claims';
import { aroundOf, insideOf, type Territory } from '../territory/territory';
import type { Charter } from './charter';
import { type RuleMention, rulesNaming } from './rule-conditions';

function withList(charter: Charter, change: (list: readonly Territory[]) => readonly Territory[]): Charter {
  return { ...charter, territories: { ...charter.territories, list: change(charter.territories.list) } };
}

/** With a new territory that covers nothing yet, at the end. */
export function addTerritory(charter: Charter, key: string, name: string, parent: TerritoryKey | null = null): Charter {
  const fresh: Territory = {
    ...{ key: key as TerritoryKey, name, parent, code: null, colour: null, team: null, manager: null },
    ...{ countries: [], regions: [], postalCodes: [] },
  };
  return withList(charter, (list) => [...list, fresh]);
}

/** With another name, code, colour, team or manager of a territory, or another one around it; one that lies inside it can't be around it. */
export function editTerritory(
  charter: Charter,
  key: TerritoryKey,
  part: Partial<Pick<Territory, 'name' | 'parent' | 'code' | 'colour' | 'team' | 'manager'>>,
): Charter {
  const inside = insideOf(charter.territories.list).get(key) ?? [];
  if (part.parent != null && inside.includes(part.parent)) return charter;
  return withList(charter, (list) => list.map((one) => (one.key === key ? { ...one, ...part } : one)));
}

/** Without a territory; those inside it lie in the one around it from then on. */
export function takeOutTerritory(charter: Charter, key: TerritoryKey): Charter {
  const parent = charter.territories.list.find((one) => one.key === key)?.parent ?? null;
  return withList(charter, (list) =>
    list.filter((one) => one.key !== key).map((one) => (one.parent === key ? { ...one, parent } : one)),
  );
}

/** With grounds that a territory covers, too; what others say of them stays, and is told as an overlap. */
export function addGrounds(charter: Charter, key: TerritoryKey, grounds: readonly Ground[]): Charter {
  return withList(charter, (list) => list.map((one) => (one.key === key ? grounds.reduce(withGround, one) : one)));
}

/** Without a ground of a territory. */
export function takeGround(charter: Charter, key: TerritoryKey, ground: Ground): Charter {
  return withList(charter, (list) => list.map((one) => (one.key === key ? withoutGround(one, ground) : one)));
}

/** With a ground given to one territory, or to none, and taken from all others. */
export function giveGround(charter: Charter, ground: Ground, key: TerritoryKey | null): Charter {
  return withList(charter, (list) =>
    list.map((one) => (one.key === key ? withGround(one, ground) : withoutGround(one, ground))),
  );
}

function isSame(a: Ground | undefined, b: Ground): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function withGround(territory: Territory, ground: Ground): Territory {
  if (groundsOf(territory).some((one) => isSame(one, ground))) return territory;
  switch (ground.kind) {
    case 'country':
      return { ...territory, countries: [...territory.countries, ground.country] };
    case 'region':
      return { ...territory, regions: [...territory.regions, ground.region] };
    case 'postal':
      return { ...territory, postalCodes: [...territory.postalCodes, ground.coverage] };
  }
}

function withoutGround(territory: Territory, ground: Ground): Territory {
  const none = { countries: [], regions: [], postalCodes: [] };
  const keeps = (one: Partial<Territory>): boolean => !isSame(groundsOf({ ...none, ...one })[0], ground);
  return {
    ...territory,
    countries: territory.countries.filter((country) => keeps({ countries: [country] })),
    regions: territory.regions.filter((region) => keeps({ regions: [region] })),
    postalCodes: territory.postalCodes.filter((codes) => keeps({ postalCodes: [codes] })),
  };
}

/** The gates, streams and routes whose conditions name a territory. */
export function rulesNamingTerritory(charter: Charter, key: TerritoryKey): readonly RuleMention[] {
  return rulesNaming(charter, (when) => [...testsIn(when)].some((test) => namesOne(test, [key])));
}

/** The gates, streams and routes that ask for a territory, by its name or as one that lies inside another. */
export function rulesAskingForTerritory(charter: Charter, key: TerritoryKey): readonly RuleMention[] {
  const around = aroundOf(key, new Map(charter.territories.list.map((one) => [one.key, one])));
  return rulesNaming(charter, (when) =>
    [...testsIn(when)].some((test) => namesOne(test, test.test === 'inside' ? [key, ...around] : [key])),
  );
}

function namesOne(test: Test, keys: readonly string[]): boolean {
  return test.subject.kind === 'territory' && 'values' in test && test.values.some((value) => keys.includes(value));
}
