import type { SpellingRow } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { SpellingsPage } from './spellings.page';

const ROWS: SpellingRow[] = [
  { list: 'countries', written: 'Norwey', means: 'NO', corrected: 3 },
  { list: 'regions:US', written: 'Kalifornya', means: 'US-CA', corrected: 0 },
  { list: 'field:industry', written: 'Brauerei', means: 'Brewery', corrected: 1 },
];

async function open(): Promise<PageTest<SpellingsPage>> {
  const page = await PageTest.open(SpellingsPage);
  await page.answer('/api/spellings', ROWS);
  await page.answer('/api/own-regions', [{ code: 'DE-RUHR', name: 'Ruhr' }]);
  return page;
}

test('spellings stand with their list and what they mean; one is taken back', async () => {
  const page = await open();
  expect(page.text).toContain('Countries “Norwey” Norway 3');
  expect(page.text).toContain('Regions of United States of America “Kalifornya” California (US) 0');
  expect(page.text).toContain('Industry “Brauerei” Brewery 1');
  await page.click('Take back Norwey');
  const { body, answer } = page.sent('/api/spellings/take-back', 'POST');
  expect(body).toEqual({ list: 'countries', written: 'Norwey' });
  await answer({ restored: 3, rows: [], spellings: ROWS.slice(1) });
  expect(page.text).toContain('3 values that it corrected are as before');
  expect(page.text).not.toContain('Countries “Norwey”');
});

test('a file is told first, then taken in; one without its columns is refused', async () => {
  const page = await open();
  const choose = async (text: string): Promise<void> => {
    const input = page.find('input[type=file]') as HTMLInputElement;
    Object.defineProperty(input, 'files', { configurable: true, value: [{ text: () => Promise.resolve(text) }] });
    input.dispatchEvent(new Event('change'));
    await page.settle();
  };
  await choose('list,means\r\ncountries,NO\r\n');
  expect(page.text).toContain('the column written is missing');
  await choose('list,written,means\r\ncountries,Norweg,NO\r\ncountries,Norwey,SE\r\n');
  const told = page.sent('/api/spellings/file', 'POST');
  const rows = [
    { list: 'countries', written: 'Norweg', means: 'NO' },
    { list: 'countries', written: 'Norwey', means: 'SE' },
  ];
  expect(told.body).toEqual({ rows, apply: false });
  const read = { fresh: 1, changed: [{ written: 'Norwey', from: 'NO', to: 'SE' }], known: 0, corrected: 0 };
  await told.answer({ ...read, problems: [{ row: 9, message: 'is no list' }], spellings: ROWS });
  expect(page.text).toContain('1 new , 1 changed');
  expect(page.text).toContain('“Norwey” stood for NO, will stand for SE');
  expect(page.text).toContain('Row 9: is no list');
  await page.click('Take them in');
  const taken = page.sent('/api/spellings/file', 'POST');
  expect(taken.body).toEqual({ rows, apply: true });
  await taken.answer({ ...read, problems: [], corrected: 4, spellings: ROWS });
  expect(page.text).toContain('1 spellings added, 1 changed; 4 values were corrected.');
});

test('a region of our own is added, renamed and removed; what keeps it from going is told', async () => {
  const page = await open();
  expect(page.text).toContain('Ruhr DE-RUHR Germany');
  await page.click('Rename Ruhr');
  await page.type('input[name=region-name]', 'Ruhr area');
  page.find('rv-own-regions td form').dispatchEvent(new Event('submit'));
  await page.settle();
  await page.sent('/api/own-regions/DE-RUHR', 'PATCH').answer([{ code: 'DE-RUHR', name: 'Ruhr area' }]);
  expect(page.text).toContain('Ruhr area DE-RUHR Germany');
  await page.click('Remove Ruhr area');
  const refusal = { type: 'about:blank', status: 409, title: 'Needed', detail: '12 records have the region Ruhr area' };
  await page.sent('/api/own-regions/DE-RUHR', 'DELETE').answer(refusal, 409);
  expect(page.text).toContain('12 records have the region Ruhr area');
});
