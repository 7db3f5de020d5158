import type { SaveDraft } from '@relvik/contracts';
import type { Gate } from '@relvik/core';
import { HomeService } from '../home/home.service';
import { TestBed } from '@angular/core/testing';
import { CharterService } from '../charter/charter.service';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { GatesPage } from './gates.page';

const COUNTS = { routes: {}, territories: {}, gates: { qualify: 31 }, openGround: [], cells: [] };

async function open(state = charterState({})): Promise<PageTest<GatesPage>> {
  const page = await PageTest.open(GatesPage, {}, state);
  await page.answer('/api/rule-counts', COUNTS);
  return page;
}

async function sent(page: PageTest<GatesPage>): Promise<readonly Gate[]> {
  await page.saved();
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  const { charter } = body as SaveDraft;
  await answer(charterState({ version: 5, charter }));
  return charter.gates;
}

const rows = (page: PageTest<GatesPage>) => [...page.element.querySelectorAll('tbody tr')].map(wordsOf);

test('stages stand in their order with who is there; gates with what they wait for and how many passed', async () => {
  const page = await PageTest.open(GatesPage, {}, charterState(null));
  TestBed.inject(HomeService).load();
  await page.answer('/api/home', {
    byStatus: [{ status: 'disqualified', count: 9 }],
    byStage: [{ stage: 'new', count: 1200 }],
  });
  await page.answer('/api/rule-counts', COUNTS);
  const stages = [...page.element.querySelectorAll('.stages li')].map(wordsOf);
  expect(stages[0]).toBe('New 1,200 open new leads enter here');
  expect(stages[1]).toContain('Qualified 0 open routes act on entering');
  expect(stages.at(-1)).toContain('9 closed here');
  expect(rows(page)[0]).toMatch(/^Qualify New → Qualified Verdict is .+ by rule – 31$/);
  expect(page.element.querySelector('button.when')).toBeNull();
});

test('a new gate moves nobody before it is told when, has a key of its own, and opens in place', async () => {
  const page = await open();
  await page.click('+ gate');
  const gates = await sent(page);
  expect(gates).toHaveLength(3);
  expect(gates[2]).toMatchObject({ from: 'new', to: 'qualified', on: true, when: { test: 'any', of: [] } });
  expect(CHARTER.gates.map(({ key }) => key)).not.toContain(gates[2]?.key);
  expect(page.find('.editing-row')).not.toBeNull();
  expect(page.element.querySelectorAll('tr.in-draft-row')).toHaveLength(1);
  await page.click('+ gate');
  const more = await sent(page);
  expect(new Set(more.map(({ key }) => key)).size).toBe(4);
});

test('a gate is renamed, put out of use and taken out; an empty name is not taken', async () => {
  const page = await open();
  await page.click('Edit Decline');
  await page.type('input[aria-label="Name of the gate"]', '   ');
  await page.type('input[aria-label="Name of the gate"]', 'Turn away');
  expect((await sent(page)).map(({ name }) => name)).toEqual(['Qualify', 'Turn away']);
  (page.find('.editing-row input[type="checkbox"]') as HTMLInputElement).click();
  await page.settle();
  expect((await sent(page))[1]).toMatchObject({ key: 'decline', on: false });
  expect(rows(page).find((row) => row.startsWith('Turn away'))).toContain('off');
  await page.click('Take it out');
  expect((await sent(page)).map(({ key }) => key)).toEqual(['qualify']);
});

test('before the charter has come it says so; when it comes the gates are there', async () => {
  const page = await PageTest.open(GatesPage);
  expect(page.text).toContain('Loading …');
  TestBed.inject(CharterService).load();
  await page.answer('/api/charters', charterState({}));
  expect(page.text).not.toContain('Loading …');
  expect(page.text).toContain('Qualify');
});

test('a gate asks for fields to be filled and for a least time, said beside its condition; days are whole', async () => {
  const page = await open();
  await page.click('Edit Qualify');
  page.component.instance['edit']('qualify', { requiredFields: ['employees', 'company.key_account'] });
  await page.settle();
  await page.type('input[aria-label="Least days in the stage for Qualify"]', '2.5');
  expect(page.element.querySelector<HTMLInputElement>('input[aria-label^="Least days"]')?.value).toBe('0');
  await page.type('input[aria-label="Least days in the stage for Qualify"]', '3');
  expect(rows(page)[0]).toContain('filled: Employees, Company: Key account · at least 3 days in the stage');
  const [gate] = await sent(page);
  expect(gate).toMatchObject({
    requiredFields: ['employees', 'company.key_account'],
    minDays: 3,
    when: CHARTER.gates[0]!.when,
  });
  // None is blank again.
  await page.type('input[aria-label="Least days in the stage for Qualify"]', '');
  page.component.instance['edit']('qualify', { requiredFields: [] });
  expect((await sent(page))[0]).toEqual(CHARTER.gates[0]);
});
