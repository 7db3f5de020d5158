import { groundWords } from '../territory/ground-words';
import { groundsOf } from '../territory/claims';
import { readGrounds } from '../territory/read-ground';
import type { TerritoryKey } from '../record/keys';
import { smallCharter, smallWorld } from './charter.fixture';
import {
  addGrounds,
  addTerritory,
  editTerritory,
  giveGround,
  rulesNamingTerritory,
  takeGround,
  takeOutTerritory,
} from './edit-territories';
import type { Charter } from './charter';

const { charter } = smallCharter(smallWorld());
const key = (text: string) => text as TerritoryKey;
const covers = ({ territories: { list } }: Charter): Record<string, string> =>
  Object.fromEntries(
    list.map((one) => [
      one.key,
      groundsOf(one)
        .map((ground) => groundWords(ground))
        .join('; '),
    ]),
  );
const grounds = (text: string) => readGrounds(text).flatMap(({ ground }) => ground ?? []);

test.each([
  ['Norway', 'Norway'],
  ['us-ca', 'California (US)'],
  ['Bavaria', 'Bayern (DE)'],
  ['Germany Bavaria', 'Bayern (DE)'],
  ['DE 80331', '80331 (DE)'],
  ['United Kingdom SW1A 1AA', 'SW1A1AA (GB)'],
  ['DE 80*', '80… (DE)'],
  ['DE 80…', '80… (DE)'],
  ['DE 80000-81999', '80000–81999 (DE)'],
  ['DE 80000 to 81999', '80000–81999 (DE)'],
  ['US 94105-1234', '94105 (US)'],
  ['DE 81999-80000', null],
  ['80331', null],
  ['Atlantis', null],
])('%j is read as %j', (written, words) => {
  const [{ ground } = { ground: undefined }, ...more] = readGrounds(written);
  expect([ground && groundWords(ground), more.length]).toEqual([words, 0]);
});

test('a column of a spreadsheet is read line by line, with what is not recognised beside', () => {
  const read = readGrounds('NO\tSweden\r\nAtlantis\n\n US-CA , DE 80*');
  expect(read.map(({ written, ground }) => (ground === null ? `? ${written}` : groundWords(ground)))).toEqual([
    ...['Norway', 'Sweden', '? Atlantis', 'California (US)', '80… (DE)'],
  ]);
});

test('ground is added, given from one to another, and taken; each once', () => {
  expect(covers(charter)).toEqual({ nordics: 'Norway; Sweden', dach: 'Germany; Austria; Switzerland' });
  const more = addGrounds(charter, key('nordics'), grounds('Norway; FI; US-CA; DE 80*'));
  expect(covers(more)['nordics']).toBe('Norway; Sweden; Finland; California (US); 80… (DE)');
  const [sweden, california] = grounds('SE; US-CA');
  const given = giveGround(giveGround(more, sweden!, key('dach')), california!, null);
  expect(covers(given)).toEqual({
    nordics: 'Norway; Finland; 80… (DE)',
    dach: 'Germany; Austria; Switzerland; Sweden',
  });
  expect(covers(takeGround(given, key('dach'), sweden!))['dach']).toBe('Germany; Austria; Switzerland');
});

test('a territory lies inside another, not inside itself; taken out, those inside it move up', () => {
  const drawn = addTerritory(addTerritory(charter, 'west', 'West', key('nordics')), 'fjord', 'Fjord', key('west'));
  const parents = ({ territories: { list } }: Charter) => list.map((one) => `${one.key} in ${one.parent ?? '–'}`);
  expect(parents(editTerritory(drawn, key('nordics'), { parent: key('fjord') }))).toEqual(parents(drawn));
  expect(parents(takeOutTerritory(drawn, key('west')))).toContain('fjord in nordics');
  expect(editTerritory(drawn, key('west'), { name: 'Far west' }).territories.list[2]?.name).toBe('Far west');
});

test('the rules that name a territory are told before it is taken out', () => {
  expect(rulesNamingTerritory(charter, key('nordics')).map((one) => `${one.kind} ${one.key}`)).toEqual(['route north']);
  expect(rulesNamingTerritory(charter, key('gone'))).toEqual([]);
});
