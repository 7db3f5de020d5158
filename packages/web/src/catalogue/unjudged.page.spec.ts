import type { UnjudgedRow } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { UnjudgedPage } from './unjudged.page';

const row = (more: Partial<UnjudgedRow>): UnjudgedRow => ({
  field: 'employees',
  kind: 'lead',
  raw: 'many',
  rateFrom: null,
  why: 'is not a number',
  likely: null,
  country: null,
  listed: false,
  leads: 7,
  open: 7,
  inBay: 6,
  some: [{ id: 3, name: 'Vidar Tornvik' }],
  ...more,
});
const ISK = row({
  field: 'deal_value',
  raw: 'ISK',
  rateFrom: '2026-07-28',
  why: 'has no rate for ISK',
  leads: 1,
  inBay: 1,
});

const RATES = { reference: 'EUR', rates: [{ currency: 'NOK', from: '2026-01-01', rate: '0.085' }] };

async function open(rows: UnjudgedRow[]): Promise<PageTest<UnjudgedPage>> {
  const page = await PageTest.open(UnjudgedPage);
  await page.answer('/api/unjudged', rows);
  await page.answer('/api/rates', RATES);
  return page;
}
const submit = async (page: PageTest<unknown>): Promise<void> => {
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
};

test('field, raw value, why, how many, and who; one value is put in the place of all of them', async () => {
  const page = await open([row({}), ISK]);
  expect(page.text).toContain('Employees “many” is not a number 7 6 Vidar Tornvik Correct');
  await page.click('Correct many');
  expect(page.text).toContain('In all 7 leads put');
  await page.type('#corrected', 'lots');
  await submit(page);
  const first = page.sent('/api/unjudged', 'POST');
  expect(first.body).toEqual({ field: 'employees', raw: 'many', value: 'lots' });
  await first.answer(
    {
      type: 'about:blank',
      status: 422,
      title: 'Something in it is not right',
      errors: [{ path: '/value', message: 'is not a number' }],
    },
    422,
  );
  expect(page.text).toContain('value is not a number');
  await page.type('#corrected', '60');
  await submit(page);
  await page.sent('/api/unjudged', 'POST').answer({ corrected: 7, rows: [ISK] });
  expect(page.text).toContain('7 leads were decided again.');
  expect(page.text).not.toContain('“many”');
});

test('amounts without a rate are given one, from the day of the first of them', async () => {
  const page = await open([ISK]);
  await page.click('Add a rate for ISK');
  expect((page.find('#rate-from') as HTMLInputElement).value).toBe('2026-07-28');
  await page.type('#rate', '0');
  await submit(page);
  expect(page.text).toContain('must be a number above 0');
  await page.type('#rate', '0.0068');
  await submit(page);
  const { body, answer } = page.sent('/api/rates', 'POST');
  expect(body).toEqual({ currency: 'ISK', from: '2026-07-28', rate: '0.0068' });
  await answer({ due: 1, rows: [], rates: { ...RATES, rates: [body, ...RATES.rates] } }, 201);
  expect(page.text).toContain('1 open lead with such an amount is decided again within a minute.');
  expect(page.text).toContain('ISK 2026-07-28 0.0068 EUR');
  expect(page.text).toContain('Every value can be judged.');
});

test('a known rate is put right where it stands', async () => {
  const page = await open([]);
  expect(page.text).toContain('NOK 2026-01-01 0.085 EUR');
  await page.click('Correct the rate of NOK from 2026-01-01');
  await page.type('rv-rates input', 'a lot');
  await submit(page);
  expect(page.text).toContain('must be a number above 0');
  await page.type('rv-rates input', '0.086');
  await submit(page);
  const { body, answer } = page.sent('/api/rates/NOK/2026-01-01', 'PUT');
  expect(body).toEqual({ rate: '0.086' });
  await answer({ due: 12, rows: [], rates: { ...RATES, rates: [{ ...RATES.rates[0], rate: '0.086' }] } });
  expect(page.text).toContain('12 open leads with such amounts are decided again within a minute.');
  expect(page.text).toContain('NOK 2026-01-01 0.086 EUR');
});

test('what was said of leads and not taken is settled where it is listed', async () => {
  const said = { lead: 7, name: 'Kari', field: 'employees', known: '80', shown: '1', unreadable: null };
  const page = await open([]);
  await page.answer('/api/said', [{ ...said, way: 'form', by: 'ask', at: Date.now() }]);
  expect(page.text).toContain('Kari Employees 80 1 by the form ask');
  await page.click('Take over Employees of Kari');
  const { body, answer } = page.sent('/api/leads/7/said', 'POST');
  expect(body).toEqual({ field: 'employees', take: true });
  await answer({});
  expect(page.text).not.toContain('They now say something else');
});

test('a text that is not recognised is taken for the likely value: what it corrects is told before, and it can be undone', async () => {
  const wrong = row({ field: 'country', raw: 'Norwey', why: 'is not a country', leads: 3, likely: 'NO', listed: true });
  const page = await open([wrong, row({ field: 'industry', raw: 'x', listed: true })]);
  expect(page.text).toContain('“Norwey” is not a country take it for Norway …');
  await page.click('Take Norwey for Norway');
  const asked = page.sent('/api/spellings/preview', 'POST');
  expect(asked.body).toEqual({ field: 'country', raw: 'Norwey', means: 'NO' });
  await asked.answer({ corrects: [{ field: 'country', records: 3, inBay: 2 }], others: 1 });
  expect(page.text).toContain('It corrects 3 leads in Country, 2 of them in the bay');
  expect(page.text).toContain('1 of other countries stay as they are.');
  page.find('rv-take-spelling form').dispatchEvent(new Event('submit'));
  await page.settle();
  const spelling = { list: 'countries', written: 'Norwey', means: 'NO' };
  await page.sent('/api/spellings', 'POST').answer({ spelling, corrected: 3, rows: [] });
  expect(page.text).toContain('“Norwey” stands for Norway from now on; 3 values were corrected.');
  await page.click('Undo');
  const back = page.sent('/api/spellings/take-back', 'POST');
  expect(back.body).toEqual({ list: 'countries', written: 'Norwey' });
  await back.answer({ restored: 3, spellings: [], rows: [wrong] });
  expect(page.text).toContain('“Norwey” is no spelling any more; 3 values are as before.');
});
