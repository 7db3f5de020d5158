import type { FieldRow, KindRow, OptionListRow } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { EMPTY_FORM, feedTargets, type FieldForm, freeRoles, keyFrom, optionsIn } from './field-form';
import { FieldsPage } from './fields.page';

const FIELDS: FieldRow[] = [
  {
    key: 'industry',
    name: 'Industry',
    type: 'choice',
    options: ['Brewery'],
    feeds: 'company.industry',
    retired: false,
    filled: 1200,
    unreadable: 0,
  },
  { key: 'employees', name: 'Employees', type: 'number', options: [], retired: false, filled: 900, unreadable: 18 },
  { key: 'fax', name: 'Fax', type: 'text', options: [], retired: true, filled: 3, unreadable: 0 },
];
const LISTS: OptionListRow[] = [
  { key: 'trades', name: 'Trades', options: ['Brewery', 'Mill'], retiredOptions: [], fields: [] },
];
const KINDS: KindRow[] = [
  { key: 'mail_sent', name: 'Mail sent', by: 'us', retired: false, standard: true, count: 7 },
  { key: 'site_walk', name: 'Site walk', by: 'them', retired: false, standard: false, count: 0 },
];

async function open(): Promise<PageTest<FieldsPage>> {
  const page = await PageTest.open(FieldsPage);
  await page.answer('/api/fields', FIELDS);
  await page.answer('/api/option-lists', LISTS);
  await page.answer('/api/activity-kinds', KINDS);
  return page;
}
const submit = async (page: PageTest<unknown>, form: string): Promise<void> => {
  page.find(form).dispatchEvent(new Event('submit'));
  await page.settle();
};

test('each field says what it holds and how many leads have it; what can’t be read leads to where it is corrected', async () => {
  const page = await open();
  expect(page.text).toContain('Industry industry choice from a list → Company: Industry Brewery 1,200 0');
  expect(page.text).toContain('Fax retired fax text');
  expect(page.find('a[href="/unjudged"]').textContent).toBe('18');
  expect((page.find('input[aria-label="Name of mail_sent"]') as HTMLInputElement).value).toBe('Mail sent');
});

test('a new field’s key follows its name until it is typed; what is wrong is said before anything is sent', async () => {
  const page = await open();
  await page.click('+ field');
  await page.type('rv-field-editor input[name="name"]', 'Größe der Anlage, m³');
  expect((page.find('rv-field-editor input[name="key"]') as HTMLInputElement).value).toBe('gro_e_der_anlage_m3');
  await page.type('rv-field-editor input[name="key"]', 'Size!');
  await page.type('rv-field-editor input[name="name"]', 'Size');
  await submit(page, 'form.editor');
  expect(page.text).toContain('key must be a small letter, then small letters, digits or _');
  await page.type('rv-field-editor input[name="key"]', 'plant_size');
  await submit(page, 'form.editor');
  const { body, answer } = page.sent('/api/fields', 'POST');
  const own = { role: null, feeds: null, optionList: null };
  expect(body).toEqual({ key: 'plant_size', name: 'Size', type: 'text', options: [], personal: false, ...own });
  await answer([...FIELDS, { ...FIELDS[2]!, key: 'plant_size', name: 'Size', retired: false }], 201);
  expect(page.text).toContain('Size plant_size text');
  // Rules and lists know it at once.
  page.http.expectOne('/api/wording');
});

test('options are edited one a line; a refusal is said beside them, and nothing is lost', async () => {
  const page = await open();
  await page.click('Edit Industry');
  const options = page.find('textarea') as HTMLTextAreaElement;
  options.value = 'Brewery\n\n  Fish farm ';
  options.dispatchEvent(new Event('input'));
  await submit(page, 'form.editor');
  const { body, answer } = page.sent('/api/fields/industry', 'PATCH');
  const own = { feeds: 'company.industry', optionList: null };
  expect(body).toEqual({
    name: 'Industry',
    options: ['Brewery', 'Fish farm'],
    retired: false,
    personal: false,
    ...own,
  });
  await answer({ type: 'about:blank', status: 409, title: 'The charter in force needs it' }, 409);
  expect(page.text).toContain('The charter in force needs it');
  expect((page.find('textarea') as HTMLTextAreaElement).value).toContain('Fish farm');
});

test('kinds are renamed, retired and added', async () => {
  const page = await open();
  await page.type('input[aria-label="Name of site_walk"]', 'Walk');
  const renamed = page.sent('/api/activity-kinds/site_walk', 'PATCH');
  expect(renamed.body).toEqual({ name: 'Walk', retired: false });
  await renamed.answer(KINDS.map((kind) => (kind.key === 'site_walk' ? { ...kind, name: 'Walk' } : kind)));
  await page.click('Retire Walk');
  expect(page.sent('/api/activity-kinds/site_walk', 'PATCH').body).toEqual({ name: 'Walk', retired: true });
  await submit(page, 'rv-kinds-table form');
  expect(page.text).toContain('Give it a name');
});

test('keys are made of names, and options of lines', () => {
  expect(['Deal value', '  9 lives', 'Année', 'x'.repeat(60)].map(keyFrom)).toEqual([
    'deal_value',
    'lives',
    'anne_e',
    'x'.repeat(39),
  ]);
  expect(optionsIn(' a \n\nb\n')).toEqual(['a', 'b']);
});

test('the fields of another kind stand apart; a new one has its kind before its key, a role that is free, and a list that is shared', async () => {
  const page = await open();
  page.component.setInput('of', 'company');
  await page.settle();
  await page.answer('/api/no-companies', [{ kind: 'name', word: 'n/a' }]);
  expect(page.text).toContain('what is known of companies');
  expect(page.text).not.toContain('Employees');
  await page.click('+ field');
  const editor = page.component.instance as unknown as { add(form: FieldForm): void };
  const form: FieldForm = { ...EMPTY_FORM, name: 'Trade', key: 'trade', type: 'choice', optionList: 'trades' };
  editor.add(form);
  const { body } = page.sent('/api/fields', 'POST');
  expect(body).toMatchObject({ key: 'company.trade', type: 'choice', optionList: 'trades', options: [], role: null });
  expect(freeRoles('company', 'text', [], undefined).map(({ value }) => value)).toEqual([null, 'name', 'domain']);
  const named = [{ key: 'company.title', name: 'x', type: 'text', options: [], retired: false, role: 'name' } as const];
  expect(freeRoles('company', 'text', named, undefined).map(({ value }) => value)).toEqual([null, 'domain']);
  // A field keeps its own.
  expect(freeRoles('company', 'text', named, 'company.title').map(({ value }) => value)).toEqual([
    null,
    'name',
    'domain',
  ]);
  expect(feedTargets('text', named, (key) => key).map(({ value }) => value)).toEqual([null, 'company.title']);
  expect(feedTargets('number', named, (key) => key)).toHaveLength(1);
});

test('a list is changed once for all fields that share it', async () => {
  const page = await open();
  expect(page.text).toContain('Trades Brewery, Mill · not used yet');
  await page.click('Edit the list Trades');
  await page.type('textarea[name="list-options"]', 'Brewery\nMill\nDairy');
  await submit(page, 'rv-option-lists form');
  const { body } = page.sent('/api/option-lists/trades', 'PUT');
  expect(body).toEqual({ name: 'Trades', options: ['Brewery', 'Mill', 'Dairy'] });
});
