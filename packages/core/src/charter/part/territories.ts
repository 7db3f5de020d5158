import { type Spot } from '../../document/problem';
import { distinctKeys, key, list, object, orNull, type Read, text } from '../../document/read-json';
import { COUNTRY_BY_FOLDED_NAME } from '../../record/country';
import { fold } from '../../record/fold';
import { coverageOf } from '../../territory/coverage';
import type { Territory } from '../../territory/territory';
import type { Charter } from '../charter';
import type { CharterPart } from './part';

const territory: Read<Territory> = object<Territory>(
  { key: key(), name: text({ most: 120 }), parent: orNull(key()), countries: list(text()) },
  ['parent'],
);

export const TERRITORIES: CharterPart<'territories'> = {
  read: object<Charter['territories']>({ field: text(), list: list(territory, { most: 2000 }) }),
  words: { items: { list: 'territory', countries: 'country' }, members: { territories: null } },
  check({ list: territories }, _, spot) {
    const at = spot.at('list');
    distinctKeys(territories, at);
    checkParents(territories, at);
    territories.forEach(({ countries }, i) => {
      countries.forEach((country, j) => {
        const code = COUNTRY_BY_FOLDED_NAME.get(fold(country));
        if (code === undefined) at.at(i).at('countries').at(j).say(`is not a country: ${country}`);
      });
    });
  },
  bind({ field, list: territories }, { people }, spot) {
    if (people.fields.get(field)?.type !== 'country') {
      spot.at('field').say(`is no field that holds a country: ${field}`);
    }
    return { coverage: coverageOf(territories, (country) => COUNTRY_BY_FOLDED_NAME.get(fold(country))) };
  },
  names: ({ list: territories }) => ({ territories }),
  changes(notes, before, after) {
    notes.each('Territory', before.list, after.list, ({ countries }) => countries.join(', ') || 'no country');
    notes.note('Territories go by', before.field, after.field);
  },
};

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
