import { type Problem, Spot } from '../../document/problem';
import {
  distinctKeys,
  kept,
  key,
  list,
  object,
  oneByKind,
  oneOf,
  orElse,
  orNull,
  type Read,
  text,
} from '../../document/read-json';
import { ownRegionsIn } from '../../record/catalogue';
import { countryCode } from '../../record/country';
import type { FieldType } from '../../record/field';
import { fold } from '../../record/fold';
import type { RepKey, TeamKey } from '../../record/keys';
import { postalForm } from '../../record/postal-code';
import { isOwnRegion, isRegion } from '../../record/region';
import { groundsOf } from '../../territory/claims';
import { coverageOf } from '../../territory/coverage';
import { groundWords } from '../../territory/ground-words';
import { addressFields, type PostalCoverage, type Territory, TERRITORY_COLOURS } from '../../territory/territory';
import type { Charter } from '../charter';
import type { CharterPart } from './part';

const MOST_GROUNDS = 5000;

const postal: Read<PostalCoverage> = oneByKind<PostalCoverage>('kind', {
  code: object<PostalCoverage & { kind: 'code' }>({
    ...{ kind: oneOf(['code']), country: text(), code: text({ most: 16 }) },
  }),
  prefix: object<PostalCoverage & { kind: 'prefix' }>({
    ...{ kind: oneOf(['prefix']), country: text(), prefix: text({ most: 16 }) },
  }),
  range: object<PostalCoverage & { kind: 'range' }>({
    ...{ kind: oneOf(['range']), country: text(), from: text({ most: 16 }), to: text({ most: 16 }) },
  }),
});

const territory: Read<Territory> = kept(
  object<Territory>(
    {
      ...{ key: key(), name: text({ most: 120 }), parent: orNull(key()), countries: list(text()) },
      ...{ code: orNull(text({ most: 16 })), colour: orNull(oneOf(TERRITORY_COLOURS)) },
      ...{ team: orNull(key<TeamKey>()), manager: orNull(key<RepKey>()) },
      regions: orElse(list(text(), { most: MOST_GROUNDS }), []),
      postalCodes: orElse(list(postal, { most: MOST_GROUNDS }), []),
    },
    ['parent', 'regions', 'postalCodes', 'code', 'colour', 'team', 'manager'],
  ),
);

export const TERRITORIES: CharterPart<'territories'> = {
  read: object<Charter['territories']>(
    {
      field: text(),
      regionField: orNull(text()),
      postalField: orNull(text()),
      list: list(territory, { most: 2000 }),
    },
    ['regionField', 'postalField'],
  ),
  words: {
    items: { list: 'territory', countries: 'country', regions: 'region', postalCodes: 'postal codes' },
    members: { territories: null },
  },
  check({ list: territories }, _, spot) {
    const at = spot.at('list');
    distinctKeys(territories, at);
    checkCodes(territories, at);
    checkParents(territories, at);
    territories.forEach((one, i) => {
      if (sound.has(one)) return;
      const problems: Problem[] = [];
      checkGround(one, Spot.root(problems));
      if (problems.length === 0) sound.add(one);
      else checkGround(one, at.at(i));
    });
  },
  bind({ field, regionField, postalField, list: territories }, { people }, spot) {
    const holds = (
      member: 'field' | 'regionField' | 'postalField',
      key: string | null,
      type: FieldType,
      what: string,
    ) => {
      if (key !== null && people.fields.get(key)?.type !== type)
        spot.at(member).say(`is no field that holds a ${what}: ${key}`);
    };
    holds('field', field, 'country', 'country');
    holds('regionField', regionField, 'region', 'region');
    holds('postalField', postalField, 'postal-code', 'postal code');
    if (regionField === null && territories.some(({ regions }) => regions.length > 0))
      spot.at('regionField').say('is needed: territories cover regions');
    if (postalField === null && territories.some(({ postalCodes }) => postalCodes.length > 0))
      spot.at('postalField').say('is needed: territories cover postal codes');
    const known = new Set((people.fields.get(regionField ?? '')?.ownRegions ?? []).map(({ code }) => code));
    territories.forEach(({ team, manager }, i) => {
      if (team !== null && !people.teams.has(team)) spot.at('list').at(i).at('team').say(`no such team: ${team}`);
      if (manager !== null && !people.reps.has(manager))
        spot.at('list').at(i).at('manager').say(`no such person: ${manager}`);
    });
    territories.forEach(({ regions }, i) => {
      regions.forEach((region, j) => {
        if (isOwnRegion(region) && !known.has(region))
          spot.at('list').at(i).at('regions').at(j).say(`is no region of our own: ${region}`);
      });
    });
    return { coverage: coverageOf(territories) };
  },
  names: ({ list: territories }) => ({ territories }),
  changes(notes, before, after, { names, fields }) {
    const ownRegions = ownRegionsIn(fields);
    const words = (one: Territory): string =>
      [
        groundsOf(one)
          .map((ground) => groundWords(ground, ownRegions))
          .join('; ') || 'no ground',
        ...(one.parent === null ? [] : [`inside ${names.territory(one.parent)}`]),
        ...(one.code === null ? [] : [`code ${one.code}`]),
        ...(one.team === null ? [] : [`worked by ${names.team(one.team)}`]),
        ...(one.manager === null ? [] : [`managed by ${names.rep(one.manager)}`]),
      ].join('; ');
    notes.each('Territory', before.list, after.list, words);
    notes.note('Territories go by', fieldsOf(before), fieldsOf(after));
  },
};

/** Territories whose ground was checked: an edit leaves most of them as they are. */
const sound = new WeakSet<Territory>();

function checkGround({ countries, regions, postalCodes }: Territory, own: Spot): void {
  countries.forEach((country, j) => {
    if (countryCode(country) === undefined) own.at('countries').at(j).say(`is not a country: ${country}`);
  });
  regions.forEach((region, j) => {
    if (!isRegion(region) && !isOwnRegion(region))
      own.at('regions').at(j).say(`is not a region such as US-CA: ${region}`);
  });
  postalCodes.forEach((codes, j) => {
    checkPostal(codes, own.at('postalCodes').at(j));
  });
}

function fieldsOf(territories: Charter['territories']): string {
  return addressFields(territories)
    .filter((key) => key !== null)
    .join(', ');
}

function checkPostal(coverage: PostalCoverage, spot: Spot): void {
  const country = countryCode(coverage.country);
  if (country === undefined) spot.at('country').say(`is not a country: ${coverage.country}`);
  const form = (member: string, written: string): string => {
    const code = postalForm(written, country ?? null);
    if (!/^[0-9A-Z]+$/.test(code)) spot.at(member).say(`is not a postal code: ${written}`);
    return code;
  };
  switch (coverage.kind) {
    case 'code':
      form('code', coverage.code);
      break;
    case 'prefix':
      form('prefix', coverage.prefix);
      break;
    case 'range': {
      const [from, to] = [form('from', coverage.from), form('to', coverage.to)];
      if (from.length !== to.length) spot.at('to').say(`must be as long as ${coverage.from}: ${coverage.to}`);
      else if (to < from) spot.at('to').say(`must not be below ${coverage.from}: ${coverage.to}`);
    }
  }
}

/** A code stands for one territory. */
function checkCodes(territories: readonly Territory[], spot: Spot): void {
  const taken = new Set<string>();
  territories.forEach(({ code }, i) => {
    if (code === null) return;
    if (taken.has(fold(code))) spot.at(i).at('code').say(`stands already: ${code}`);
    taken.add(fold(code));
  });
}

function checkParents(territories: readonly Territory[], spot: Spot): void {
  const byKey = new Map(territories.map((one) => [one.key, one]));
  territories.forEach(({ key: own, parent }, i) => {
    const at = spot.at(i).at('parent');
    if (parent !== null && !byKey.has(parent)) at.say(`no such territory: ${parent}`);
    let up = parent;
    for (let steps = 0; up !== null && steps <= territories.length; steps += 1) {
      if (up === own) {
        at.say('lies inside itself');
        break;
      }
      up = byKey.get(up)?.parent ?? null;
    }
  });
}
