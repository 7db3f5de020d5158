import type { SaveDraft } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { TerritoriesPage } from './territories.page';

const COUNTS = {
  routes: {},
  territories: { nordics: 41, fjords: 6 },
  openGround: [{ country: 'PT', count: 9 }],
  cells: [],
};
const none = { countries: [], regions: [], postalCodes: [] };
const charter = {
  ...CHARTER,
  territories: {
    ...CHARTER.territories,
    list: [
      ...CHARTER.territories.list.map((one) => ({ ...none, ...one })),
      { ...none, key: 'fjords', name: 'Fjords', parent: 'nordics', countries: ['IS'], regions: ['NO-46'] },
      { ...none, key: 'named', name: 'Named accounts', parent: null },
    ],
  },
} as unknown as Charter;

async function open(draft: Partial<Charter> | null = null): Promise<PageTest<TerritoriesPage>> {
  const state = draft === null ? charterState(null) : charterState({ charter: { ...charter, ...draft } });
  const page = await PageTest.open(
    TerritoriesPage,
    {},
    draft === null ? { ...state, inForce: { ...state.inForce, charter } } : state,
  );
  await page.answer('/api/rule-counts', COUNTS);
  return page;
}
const listed = (page: PageTest<TerritoriesPage>) =>
  [...page.element.querySelectorAll('.tables > section:first-child tbody tr')].map(wordsOf);
async function saved(page: PageTest<TerritoriesPage>): Promise<Charter['territories']['list']> {
  await page.saved();
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  await answer(charterState({ version: 5, charter: (body as SaveDraft).charter }));
  return (body as SaveDraft).charter.territories.list;
}

test('territories stand under their parents with the ground they cover and their leads', async () => {
  const page = await open();
  const rows = listed(page);
  expect(rows[0]).toMatch(/^Nordics Norway, Sweden 41/);
  expect(rows[1]).toMatch(/^Fjords Iceland, Vestland \(NO\) 6/);
  expect(rows[2]).toMatch(/^D-A-CH Germany, Austria, Switzerland 0/);
  expect(rows[3]).toMatch(/^Named accounts assigned by hand 0/);
  expect(page.text).toMatch(/Portugal.* 9|9.* Portugal/);
  expect(page.element.querySelector('button.when')).toBeNull();
});

test('a country or region is found by name or code, with who covers it, also by what is around it', async () => {
  const page = await open();
  const find = (text: string) => page.type('input[type=search]', text);
  await find('ice');
  expect(page.text).toMatch(/Iceland IS Fjords/);
  await find('vestland');
  expect(page.text).toMatch(/Vestland \(NO\) NO-46 Fjords/);
  await find('bayern');
  expect(page.text).toMatch(/Bayern \(DE\) DE-BY with D-A-CH/);
  await find('portug');
  expect(page.text).toMatch(/Portugal PT open ground/);
});

test('an address is typed, and its territory told, by which part, and who asks for it', async () => {
  const page = await open();
  await page.type('input[aria-label=Country]', 'norge');
  expect(wordsOf(page.find('rv-whose-address [role=status]'))).toBe('Nordics asked for by route Nordics');
  await page.type('input[aria-label=Region]', 'Vestland');
  expect(wordsOf(page.find('rv-whose-address [role=status]'))).toBe('Fjords, by its region');
  await page.type('input[aria-label=Region]', 'Vestlund');
  expect(wordsOf(page.find('rv-whose-address [role=status]'))).toContain('“Vestlund” is not a region');
});

test('ground is pasted into a territory, taken out again, and what is not recognised stays beside', async () => {
  const page = await open({});
  await page.click('Edit Fjords');
  await page.type('textarea', 'FI\nAtlantis\nUS-CA, DE 80*');
  expect(page.text).toContain('not recognised: Atlantis');
  await page.click('Add 3');
  expect((await saved(page))[2]).toMatchObject({
    countries: ['IS', 'FI'],
    regions: ['NO-46', 'US-CA'],
    postalCodes: [{ kind: 'prefix', country: 'DE', prefix: '80' }],
  });
  expect((page.find('textarea') as HTMLTextAreaElement).value).toBe('Atlantis');
  await page.click('Take Iceland out');
  expect((await saved(page))[2]).toMatchObject({ countries: ['FI'] });
});

test('a territory is added, renamed and taken out; rules that ask for it are told before; an overlap is told, and mended', async () => {
  const page = await open({});
  await page.click('+ territory');
  await page.type('.name-field', 'Baltics');
  await page.type('textarea', 'Estonia; Norway');
  await page.click('Add 2');
  const drawn = await saved(page);
  expect(drawn.at(-1)).toMatchObject({ name: 'Baltics', countries: ['EE', 'NO'] });
  expect(page.text).toContain('Norway is covered by Nordics and Baltics');
  await page.click('Leave Norway to Nordics alone');
  expect((await saved(page)).at(-1)).toMatchObject({ countries: ['EE'] });
  await page.click('Edit Nordics');
  expect(page.text).toContain('route Nordics ask for it');
});
