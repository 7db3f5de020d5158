import type { SaveDraft } from '@relvik/contracts';
import type { Gate } from '@relvik/core';
import { TestBed } from '@angular/core/testing';
import { CharterService } from '../charter/charter.service';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { GateEffects } from './gate-effects';
import { GateTable } from './gate-table';
import { GatesPage } from './gates.page';
import { PipelineBar } from './pipeline-bar';
import { StageEditor } from './stage-editor';

const FIGURES = {
  stages: [
    { stage: 'new', open: 1200, closed: 3, days: 2.04 },
    { stage: 'qualified', open: 0, closed: 0, days: null },
    { stage: 'out', open: 0, closed: 9, days: null },
  ],
  moves: [
    { gate: 'qualify', from: 'new', to: 'qualified', count: 31 },
    { gate: 'decline', from: 'new', to: 'out', count: 4 },
  ],
};

async function open(state = charterState({})): Promise<PageTest<GatesPage>> {
  const page = await PageTest.open(GatesPage, {}, state);
  await page.answer('/api/pipelines', FIGURES);
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

test('the pipeline is drawn with what stands in each stage and what each gate let through; gates are listed below', async () => {
  const page = await open(charterState(null));
  const boxes = [...page.element.querySelectorAll('g.stage')];
  expect(boxes.map(wordsOf)).toEqual(['New 1,200 2 days entry', 'Qualified 0', 'Disqualified 9 4 in 30 days']);
  expect(boxes[0]?.getAttribute('aria-label')).toBe('Stage New, 1,200, 2 days');
  expect([...page.element.querySelectorAll('g.label')].map(wordsOf)).toEqual(['Qualify · 31', 'Decline · 4']);
  expect(rows(page)[0]).toMatch(/^Qualify New → Qualified Verdict is .+ by rule – – 31$/);
  expect(page.element.querySelector('button.when')).toBeNull();
  await page.click('Deals');
  expect([...page.element.querySelectorAll('g.stage .name')].map(wordsOf)).toEqual([
    'Open',
    'Offer made',
    'Won',
    'Lost',
  ]);
  expect(page.text).toContain('it moves the deal');
});

test('a gate of deals is drawn as one of leads is, with their stages and fields', async () => {
  const page = await open();
  await page.click('Deals');
  await page.click('+ gate');
  expect(page.text).toContain('Passing it tags the deal');
  expect((await sent(page)).at(-1)).toMatchObject({ from: 'deal-open', to: 'deal-offer', decider: { kind: 'rule' } });
});

test('a stage is added, renamed, put beside the path, moved, and merged into another with all that names it', async () => {
  const page = await open();
  await page.click('+ stage');
  await page.type('input[aria-label="Name of the stage"]', 'Accepted');
  (page.find('.stage-editor input[type="checkbox"]') as HTMLInputElement).click();
  await page.click('Move Accepted left');
  const stages = async () => {
    await page.saved();
    const { body, answer } = page.sent('/api/drafts/2', 'PUT');
    const { charter } = body as SaveDraft;
    await answer(charterState({ version: 5, charter }));
    return charter.pipelines[0]!.stages;
  };
  expect((await stages()).map(({ name, beside }) => `${name} ${beside}`)).toEqual([
    'New false',
    'Accepted true',
    'Qualified false',
    'Disqualified false',
  ]);
  expect(page.element.querySelectorAll('g.stage.drawn')).toHaveLength(1);

  page.find('g.stage[aria-label^="Stage Qualified"]').dispatchEvent(new MouseEvent('click', { bubbles: true }));
  await page.settle();
  const editor = page.part(StageEditor);
  editor['into'].set('new');
  await page.settle();
  expect(page.text).toContain('These name the other in its place: gate Qualify, stream Qualified leads');
  await page.click('Merge Qualified');
  expect((await stages()).map(({ name, mergedFrom }) => [name, ...mergedFrom])).toEqual([
    ['New', 'qualified'],
    ['Accepted'],
    ['Disqualified'],
  ]);
});

test('a pipeline is added for leads, named, looked at, and taken out again', async () => {
  const page = await open();
  await page.click('+ for leads');
  await page.type('input[aria-label="Name of the pipeline"]', 'Care plans');
  expect([...page.element.querySelectorAll('.pipeline')].map(wordsOf)).toEqual(['Leads', 'Deals', 'Care plans leads']);
  expect([...page.element.querySelectorAll('g.stage .name')].map(wordsOf)).toEqual(['New', 'Disqualified']);
  const bar = page.part(PipelineBar);
  bar['into'].set('leads');
  await page.settle();
  await page.click('Take out Care plans');
  expect([...page.element.querySelectorAll('.pipeline.on')].map(wordsOf)).toEqual(['Leads']);
  expect(page.element.querySelectorAll('.pipeline')).toHaveLength(2);
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
  page.part(GateTable)['edit']('qualify', { requiredFields: ['employees', 'company.key_account'] });
  await page.settle();
  await page.type('input[aria-label="Least time in the stage for Qualify"]', '2.5');
  expect(page.element.querySelector<HTMLInputElement>('input[aria-label^="Least time"]')?.value).toBe('0');
  await page.type('input[aria-label="Least time in the stage for Qualify"]', '3');
  expect(rows(page)[0]).toContain('filled: Employees, Company: Key account · at least 3 days in the stage');
  const [gate] = await sent(page);
  expect(gate).toMatchObject({
    requiredFields: ['employees', 'company.key_account'],
    minDays: 3,
    when: CHARTER.gates[0]!.when,
  });
  page.part(GateTable)['setUnit'](page.part(GateTable)['gates']()[0]!, 'hours');
  expect((await sent(page))[0]).toMatchObject({ minDays: 0, minHours: 3 });
  expect(rows(page)[0]).toContain('at least 3 hours in the stage');
  // None is blank again.
  await page.type('input[aria-label="Least time in the stage for Qualify"]', '');
  page.part(GateTable)['edit']('qualify', { requiredFields: [] });
  expect((await sent(page))[0]).toEqual(CHARTER.gates[0]);
});

test('what passing a gate changes is chosen by field and tag, said beside its condition, and taken out again', async () => {
  const page = await open();
  await page.click('Edit Qualify');
  const effects = page.part(GateEffects);
  const [free] = effects['free']();
  expect(effects['free']().map(({ key }) => key)).not.toContain('country');
  await page.click('+ set a field');
  effects['change'](0, { field: free!.key, value: '' });
  await page.settle();
  effects['setTags'](['Pilot']);
  await page.settle();
  expect(rows(page)[0]).toContain(`then empties ${free!.name}, tags it Pilot`);
  expect((await sent(page))[0]!.effects).toEqual([
    { kind: 'set', field: free!.key, value: '' },
    { kind: 'tag', tag: 'Pilot' },
  ]);
  await page.click(`Do not set ${free!.name}`);
  expect((await sent(page))[0]!.effects).toEqual([{ kind: 'tag', tag: 'Pilot' }]);
});
