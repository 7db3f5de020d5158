import type { UnjudgedRow } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { UnjudgedPage } from './unjudged.page';

const row = (more: Partial<UnjudgedRow>): UnjudgedRow => ({
  field: 'employees',
  raw: 'many',
  rateFrom: null,
  why: 'is not a number',
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

async function open(rows: UnjudgedRow[]): Promise<PageTest<UnjudgedPage>> {
  const page = await PageTest.open(UnjudgedPage);
  await page.answer('/api/unjudged', rows);
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
  await page.click('Give a rate for ISK');
  expect((page.find('#rate-from') as HTMLInputElement).value).toBe('2026-07-28');
  await page.type('#rate', '0');
  await submit(page);
  expect(page.text).toContain('must be a number above 0');
  await page.type('#rate', '0.0068');
  await submit(page);
  const { body, answer } = page.sent('/api/rates', 'POST');
  expect(body).toEqual({ currency: 'ISK', from: '2026-07-28', rate: '0.0068' });
  await answer({ corrected: 1, rows: [] });
  expect(page.text).toContain('1 lead was decided again.');
  expect(page.text).toContain('Every value can be judged.');
});
