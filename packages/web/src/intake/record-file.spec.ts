import type { ImportReport } from '@relvik/contracts';
import { PageTest, wordsOf } from '../page.fixture';
import { RecordFile } from './record-file';

const REPORT: ImportReport = {
  ...{
    id: 4,
    kind: 'company',
    name: 'firms.csv',
    handling: 'decide',
    state: 'done',
    by: 'Runa',
    at: 0,
    endedAt: 1,
    rows: 3,
    waiting: 0,
  },
  ...{ accepted: 2, joined: 1, refused: 1, undone: 0, kept: 0, again: false },
  notes: [
    { row: 2, field: 'company.employees', message: '“x” is not a number', refused: false, record: 31 },
    { row: 3, field: 'owner', message: 'has more than 200 characters', refused: true, record: null },
  ],
  workedOn: [31],
};

async function open(): Promise<PageTest<RecordFile>> {
  const page = await PageTest.open(RecordFile);
  await page.answer('/api/imports', []);
  return page;
}

async function send(page: PageTest<RecordFile>): Promise<void> {
  const input = page.element.querySelector<HTMLInputElement>('input[type=file]')!;
  const file = new File(['Name\nAnn'], 'people.csv');
  Object.assign(file, { text: () => Promise.resolve('Name\nAnn') });
  Object.defineProperty(input, 'files', { value: [file] });
  Object.defineProperty(input, 'value', { value: '', writable: true });
  input.dispatchEvent(new Event('change'));
  await page.settle();
}

test('the kind of the file says what its columns mean, and is sent along', async () => {
  const page = await open();
  expect(page.text).toContain('Open leads there with the same e-mail are joined.');
  page.component.instance['kind'].set('deal');
  await page.settle();
  expect(page.text).toContain('Each row is a deal of its own.');
  expect(page.find('input[aria-label="CSV file of deals"]')).not.toBeNull();
  await send(page);
  const { request } = page.http.expectOne((one) => one.url === '/api/intake/csv');
  expect([request.params.get('kind'), request.params.get('name'), request.body]).toEqual([
    'deal',
    'people.csv',
    'Name\nAnn',
  ]);
});

test('the report names rows by field, leads to the records of its kind, and says why it can’t be undone', async () => {
  const page = await open();
  page.component.instance['show'](4);
  await page.passes(10);
  await page.answer('/api/imports/4', REPORT);
  await page.answer('/api/imports', [REPORT]);
  expect(page.text).toContain('3 rows of companies, sent by Runa');
  expect(page.text).toContain('2 rows accepted');
  const rows = [...page.element.querySelectorAll('.outcome tbody tr')].map(wordsOf);
  expect(rows[0]).toMatch(/^2 Company: Employees “x” is not a number accepted$/);
  expect(rows[1]).toBe('3 Owner has more than 200 characters refused');
  expect(page.find('.outcome a[href="/companies/31"]')).not.toBeNull();
  expect(page.text).toContain('It can’t be undone: companies of it were worked on since');
});
