import type { Charter } from '../charter/charter';
import { smallCharter, smallWorld } from '../charter/charter.fixture';
import { namesOf } from '../charter/charter-names';
import { addGrounds, addTerritory } from '../charter/edit-territories';
import type { TerritoryKey } from '../record/keys';
import { readGrounds } from '../territory/read-ground';
import { fixOf } from './finding-fix';
import { swallowedIn, unusedTerritories } from './idle-ground';

const { charter } = smallCharter(smallWorld());
const grounds = (text: string) => readGrounds(text).flatMap(({ ground }) => ground ?? []);
const [nordics] = charter.territories.list;
const withNordics = (text: string): Charter => addGrounds(charter, nordics!.key, grounds(text));

test.each([
  ['NO-46', 'Vestland (NO)'],
  ['DE 80*; DE 801*', '801… (DE)'],
  ['DE 80000-81999; DE 80331', '80331 (DE)'],
  ['DE 80000-81999; DE 80500-80600', '80500–80600 (DE)'],
  ['NO 0150', '0150 (NO)'],
])('of %s the inner ground is covered anyway, and can be taken out', (text, words) => {
  const drawn = withNordics(text);
  const [found, ...rest] = swallowedIn(drawn);
  expect(found).toMatchObject({ territory: 'nordics' });
  expect(rest).toEqual([]);
  const wording = { names: namesOf(charter, smallWorld()), fields: smallWorld().fields };
  const fix = fixOf(found!, drawn, wording)!;
  expect(fix.words).toBe(`Take ${words} out of it`);
  expect(swallowedIn(fix.apply(drawn))).toEqual([]);
});

test.each([
  'DE-BY',
  'DE 80*; DE 79000-80100',
  // Vestland is another's, so that a code may lie in it.
  'NO 0150; SE',
])('of %s none is: others are around it, or it can’t be told', (text) => {
  const drawn = addGrounds(withNordics(text), 'dach' as TerritoryKey, grounds('NO-46'));
  expect(swallowedIn(drawn)).toEqual([]);
});

test('a territory with ground for which no rule asks is told; one by hand is not', () => {
  const drawn = addTerritory(addTerritory(charter, 'isles', 'Isles'), 'named', 'Named');
  const used = addGrounds(drawn, 'isles' as TerritoryKey, grounds('IS'));
  expect(unusedTerritories(used)).toEqual([{ code: 'territory-unused', severity: 'warning', territory: 'isles' }]);
  // A rule for a territory and all inside it asks for those inside, too.
  expect(unusedTerritories(charter)).toEqual([]);
});
