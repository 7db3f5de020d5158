import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { TerritoriesPage } from './territories.page';

const COUNTS = {
  routes: {},
  territories: { nordics: 41, fjords: 6 },
  openGround: [{ country: 'PT', count: 9 }],
  cells: [],
};

const charter = {
  ...CHARTER,
  territories: {
    ...CHARTER.territories,
    list: [
      ...CHARTER.territories.list,
      { key: 'fjords', name: 'Fjords', parent: 'nordics', countries: ['IS'] },
      { key: 'named', name: 'Named accounts', parent: null, countries: [] },
    ] as unknown as typeof CHARTER.territories.list,
  },
};

async function open(): Promise<PageTest<TerritoriesPage>> {
  const page = await PageTest.open(TerritoriesPage, {}, charterState({ charter }));
  await page.answer('/api/rule-counts', COUNTS);
  return page;
}

test('territories stand under their parents with the countries they cover and their leads', async () => {
  const page = await open();
  const rows = [...page.element.querySelectorAll('tbody tr')].map(wordsOf);
  expect(rows[0]).toMatch(/^Nordics Norway, Sweden 41/);
  expect(rows[1]).toMatch(/^Fjords Iceland 6/);
  expect(rows[2]).toMatch(/^D-A-CH Germany, Austria, Switzerland 0/);
  expect(rows[3]).toMatch(/^Named accounts assigned by hand 0/);
  expect(page.text).toMatch(/Portugal.* 9|9.* Portugal/);
});

test('a country is found by name or code, with who covers it or that nobody does', async () => {
  const page = await open();
  await page.type('input', 'ice');
  expect(page.text).toMatch(/Iceland.*Fjords/);
  await page.type('input', 'de');
  expect(page.text).toMatch(/Germany.*D-A-CH/);
  await page.type('input', 'portug');
  expect(page.text).not.toMatch(/Portugal (Nordics|D-A-CH)/);
});
