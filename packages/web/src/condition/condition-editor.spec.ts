import { TestBed } from '@angular/core/testing';
import { type Condition, readKeyOf, subjectsIn } from '@relvik/core';
import { ImpactService } from '../impact/impact.service';
import { NearWorker, populationOf, sendPopulation, until } from '../impact/near-worker.fixture';
import { IMPACT_WORKER } from '../impact/worker-factory';
import { charterState, PageTest } from '../page.fixture';
import { ConditionEditor } from './condition-editor';

const INDUSTRIES = ['Brewery', 'Brewery', 'Fish farm', 'Golf course', '', ''];
const brewery: Condition = { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] };

/** The editor in a rule's place: what it says it was changed to is what it is given next. */
async function editing(condition: Condition) {
  TestBed.configureTestingModule({
    providers: [{ provide: IMPACT_WORKER, useValue: () => new NearWorker() as unknown as Worker }],
  });
  const page = await PageTest.open(ConditionEditor, { condition, place: 'signal' }, charterState({}));
  const said: Condition[] = [];
  page.component.instance.changed.subscribe((now) => {
    said.push(now);
    page.component.setInput('condition', now);
  });
  TestBed.inject(ImpactService).want();
  await sendPopulation(page, populationOf(INDUSTRIES));
  return { page, last: () => said.at(-1) };
}

const inputs = (page: PageTest<unknown>, label: string) => [
  ...page.element.querySelectorAll<HTMLInputElement>(`input[aria-label="${label}"]`),
];

async function typeInto(page: PageTest<unknown>, field: HTMLInputElement, text: string): Promise<void> {
  field.value = text;
  field.dispatchEvent(new Event('input'));
  field.dispatchEvent(new Event('change'));
  await page.settle();
}

test('how many match, and a few of them, follow what is asked; blanks that a “not” lets pass are told', async () => {
  const { page } = await editing(brewery);
  await until(page, '2 leads match : Firm 1, Firm 2');
  page.component.setInput('condition', { test: 'not', of: brewery });
  await until(page, '4 leads match');
  expect(page.text).toContain('of these, 2 are blank');
  page.component.setInput('condition', {
    test: 'one-of',
    subject: { kind: 'field', field: 'industry' },
    values: ['Golf course'],
  });
  await until(page, '1 lead matches : Firm 4');
});

test('a lone test becomes a group when another is added, and a test again when it is the last one left', async () => {
  const { page, last } = await editing(brewery);
  await page.click('+ test');
  expect(last()).toEqual({
    test: 'all',
    of: [brewery, { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] }],
  });
  expect(page.element.querySelectorAll('rv-test-editor')).toHaveLength(2);
  await page.click('Remove test 1');
  expect(last()).toEqual({ test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] });
});

test('a group inside a group begins with the other joint, and goes whole', async () => {
  const { page, last } = await editing({ test: 'any', of: [brewery, { test: 'not', of: brewery }] });
  await page.click('+ group');
  expect(last()).toMatchObject({
    test: 'any',
    of: [brewery, { test: 'not' }, { test: 'all', of: [{ test: 'one-of' }] }],
  });
  await until(page, '6 leads match');
  await page.click('Remove the group');
  expect(last()).toEqual({ test: 'any', of: [brewery, { test: 'not', of: brewery }] });
});

test('nothing in a group is said: all of nothing always holds, any of nothing never', async () => {
  const { page } = await editing({ test: 'all', of: [] });
  await until(page, '6 leads match');
  expect(page.text).toContain('nothing: it always holds');
  page.component.setInput('condition', { test: 'any', of: [] });
  await until(page, '0 leads match');
  expect(page.text).toContain('nothing: it never holds');
});

test('values are taken out by their chips, typed with Enter and pasted as a column of a spreadsheet', async () => {
  const { page, last } = await editing(brewery);
  const field = page.find('rv-test-editor p-autocomplete');
  const column = { getData: () => 'Fish farm\r\nGolf course\r\n\r\nBrewery' };
  field.dispatchEvent(Object.assign(new Event('paste', { cancelable: true }), { clipboardData: column }));
  await page.settle();
  expect(last()).toEqual({
    test: 'one-of',
    subject: { kind: 'field', field: 'industry' },
    values: ['Brewery', 'Fish farm', 'Golf course'],
  });
  await page.click('Take out Brewery');
  expect(last()).toEqual({
    test: 'one-of',
    subject: { kind: 'field', field: 'industry' },
    values: ['Fish farm', 'Golf course'],
  });
  const typed = page.find('rv-test-editor p-autocomplete input') as HTMLInputElement;
  typed.value = 'Brewery';
  typed.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
  await page.settle();
  expect(last()).toEqual({
    test: 'one-of',
    subject: { kind: 'field', field: 'industry' },
    values: ['Fish farm', 'Golf course', 'Brewery'],
  });
  for (const name of ['Fish farm', 'Golf course', 'Brewery']) await page.click(`Take out ${name}`);
  // A test without a value would be no test: it keeps a place for the next one.
  expect(last()).toEqual({ test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['…'] });
});

test('a range says which ends belong, keeps at least one end, and reads numbers with thousands apart', async () => {
  const range: Condition = {
    test: 'range',
    subject: { kind: 'field', field: 'employees' },
    from: { at: '50', included: true },
    to: { at: '500', included: false },
  };
  const { page, last } = await editing(range);
  await page.click('The lower end belongs to it');
  expect(last()).toMatchObject({ from: { at: '50', included: false } });
  await page.click('The upper end does not belong to it');
  expect(last()).toMatchObject({ to: { at: '500', included: true } });
  await typeInto(page, inputs(page, 'To')[0]!, '1,500');
  expect(last()).toMatchObject({ to: { at: '1500', included: true } });
  await typeInto(page, inputs(page, 'From')[0]!, '');
  expect(last()).toMatchObject({ from: null, to: { at: '1500' } });
  await typeInto(page, inputs(page, 'To')[0]!, '');
  expect(last()).toMatchObject({ from: null, to: { at: '1500' } });
});

test('a signal is offered fields alone, a route also what was computed before it', async () => {
  const { page } = await editing(brewery);
  const offered = () => subjectsIn(page.component.instance['scope']()).map(readKeyOf);
  expect(offered()).toEqual(expect.arrayContaining(['industry', 'employees']));
  expect(offered()).not.toContain('rank');
  page.component.setInput('place', 'gate');
  expect(offered()).toEqual(expect.arrayContaining(['industry', 'rank', 'stage']));
  expect(offered()).not.toContain('territory');
  page.component.setInput('place', 'route');
  expect(offered()).toEqual(expect.arrayContaining(['industry', 'rank', 'territory']));
});

test('what the population withholds is asked of the server once, as a question, and counted by the ids it answers', async () => {
  const { page } = await editing(brewery);
  await until(page, '2 leads match');
  const byMailbox: Condition = { test: 'starts-with', subject: { kind: 'field', field: 'email' }, values: ['info@'] };
  page.component.setInput('condition', byMailbox);
  for (let tries = 0; tries < 40; tries += 1) {
    await page.passes(10);
    const asked = page.http.match('/api/population/lookups');
    for (const one of asked) {
      expect(one.request.body).toEqual({ lookups: [{ of: 'test', test: byMailbox }] });
      one.flush([{ of: 'test', test: byMailbox, yes: [3, 4, 5], unjudged: [6] }]);
    }
    if (asked.length > 0) break;
  }
  await until(page, '3 leads match : Firm 3, Firm 4');
  expect(page.text).toContain('1 can’t be judged');
  page.component.setInput('condition', { test: 'all', of: [byMailbox, brewery] });
  await until(page, '0 leads match');
  page.http.expectNone('/api/population/lookups');
});
