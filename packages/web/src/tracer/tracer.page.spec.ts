import type { RecordDocument } from '@relvik/contracts';
import { readValue, type RecordKind, type Value } from '@relvik/core';
import { TestBed } from '@angular/core/testing';
import { withPoints } from '../../../core/src/charter/changed-charter.fixture';
import { SMALL_WORLD, smallWorld } from '../../../core/src/charter/charter.fixture';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { pathOf } from '../wording/kind-words';
import { TracerPage } from './tracer.page';
import { TracerService } from './tracer.service';
import { tracerSteps } from './tracer-steps';

const world = smallWorld();

function record(id: number, raw: Readonly<Record<string, string>>): RecordDocument {
  const values = Object.entries(raw).map(([key, text]): [string, Value] => [
    key,
    readValue(world.fields.get(key)!, text, '2026-03-02'),
  ]);
  return { id, arrived: Date.parse('2026-03-01T08:00:00Z'), way: 'form', pin: null, values, tied: [], activities: [] };
}

const halved = {
  ...withPoints(CHARTER, 'trade', 30),
  name: 'Next',
};

async function open(state = charterState({ charter: halved })) {
  const page = await PageTest.open(TracerPage, {}, state);
  const tracer = TestBed.inject(TracerService);
  const carry = async (document: RecordDocument, kind: RecordKind = 'lead'): Promise<void> => {
    tracer.carry(kind, document.id);
    await page.answer('/api/world', SMALL_WORLD);
    await page.answer(`/api${pathOf(kind)}/${document.id}/record`, document);
  };
  const step = (name: string) =>
    tracerSteps(tracer.inForce(), tracer.draft()).find((one) => one.name === name) ?? { draft: null, inForce: null };
  return { page, tracer, carry, step };
}

const brewery = { industry: 'Brewery', country: 'NO', employees: '5' };

test('before a lead is chosen the page says how; then both charters give their account side by side', async () => {
  const { page, carry, step } = await open();
  expect(page.text).toContain('No record is carried along yet');
  await carry(record(7, brewery));
  const [, inForce, draft] = [...page.element.querySelectorAll('.tracer-columns > div')].map(wordsOf);
  expect(inForce).toMatch(/In force .*Small.*\+60 A trade we serve/);
  expect(draft).toMatch(/Draft Next .*\+30 A trade we serve/);
  expect(step('Fit')).toMatchObject({ inForce: '60', draft: '30' });
  expect(step('Territory')).toMatchObject({ draft: 'Nordics', inForce: null });
  expect(page.find('a[href="/leads/7"]')).not.toBeNull();
});

test('what is typed over answers through the whole chain, and is taken back alone or all at once', async () => {
  const { page, tracer, carry, step } = await open();
  await carry(record(7, brewery));
  // 60 and 74 for the number of employees come to more than the axis holds.
  await page.type('#if-employees', '60');
  expect(step('Fit')).toMatchObject({ draft: '100', inForce: null });
  expect(page.text).toContain('was 5');
  tracer.whatIf('country', 'Germany');
  expect(step('Territory').draft).toBe('D-A-CH');
  await page.click('Employees as stored');
  expect(step('Fit')).toMatchObject({ inForce: '60', draft: '30' });
  expect(step('Territory').draft).toBe('D-A-CH');
  await page.click('Back to what is stored');
  expect(step('Territory').draft).toBe('Nordics');
  expect(page.text).not.toContain('was ');
});

test('a value that can’t be read says so at its field, and the step that needs it can’t be judged', async () => {
  const { page, carry, step } = await open();
  await carry(record(7, brewery));
  await page.type('#if-employees', 'about sixty');
  expect(wordsOf(page.find('#if-employees').closest('div')!)).toContain('not a number');
  expect(step('Fit').draft).toBe('can’t be judged');
  expect(step('Grade').draft).toBe('none');
  expect(step('Owner').draft).toBe('Bay');
});

test('a lead that is made up begins blank; without a draft one account stands for both', async () => {
  const { page, tracer, step } = await open(charterState(null));
  tracer.makeUp();
  await page.answer('/api/world', SMALL_WORLD);
  expect(page.text).toContain('Made up');
  expect(page.text).toContain('New draft at the top right');
  await page.type('#if-employees', '60');
  expect(step('Fit')).toEqual({ name: 'Fit', draft: '74', inForce: null });
});

test('whoever is chosen last is carried, in whatever order the answers come', async () => {
  const { page, tracer } = await open();
  tracer.carry('lead', 7);
  tracer.carry('lead', 8);
  await page.answer('/api/world', SMALL_WORLD);
  const first = page.http.expectOne('/api/leads/7/record');
  page.http.expectOne('/api/leads/8/record').flush(record(8, { industry: 'Fish farm' }));
  if (!first.cancelled) first.flush(record(7, brewery));
  await page.settle();
  expect(tracer.id()).toBe(8);
  expect(tracer.valueOf('industry').stored).toMatchObject({ text: 'Fish farm' });
});

test('a lead that can’t be read is said, and the one before stays', async () => {
  const { page, tracer, carry } = await open();
  await carry(record(7, brewery));
  tracer.carry('lead', 9);
  await page.answer('/api/leads/9/record', { title: 'There is nothing here', status: 404 }, 404);
  expect([tracer.failed(), tracer.id()]).toEqual([true, 7]);
});

test('a company is carried as well: it is scored and graded, but goes through no gate and to no owner', async () => {
  const { page, tracer, carry, step } = await open();
  await carry(record(7, { 'company.industry': 'Brewery', 'company.employees': '60' }), 'company');
  expect(tracerSteps(tracer.inForce(), tracer.draft()).map(({ name }) => name)).toEqual(['Fit', 'Engagement', 'Grade']);
  expect(step('Grade')).toMatchObject({ draft: 'none' });
  expect(page.find('a[href="/companies/7"]').textContent).toContain('Open the company');
  const fields = [...page.element.querySelectorAll('dl.values dt')].map(wordsOf);
  expect(fields).toEqual(expect.arrayContaining(['Company: Industry', 'Company: Key account']));
  expect(fields).not.toContain('Title');
  await page.type('[id="if-company.employees"]', '12');
  expect(page.text).toContain('was 60');
});
