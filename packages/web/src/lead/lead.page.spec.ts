import type { LeadDetail, Role } from '@relvik/contracts';
import { TestBed } from '@angular/core/testing';
import { PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { SessionService } from '../session/session.service';
import { LeadPage } from './lead.page';

const LEAD = {
  id: 7,
  version: 3,
  name: 'Lars Berg',
  company: 'Bergbrygg',
  status: 'open',
  stage: 'new',
  grade: 'B active',
  fitBand: 1,
  engagementBand: 1,
  rank: 74,
  territory: 'nordics',
  place: { kind: 'owner', rep: 'ada' },
  arrived: Date.now() - 3_600_000,
  closeReason: null,
  pin: null,
  ties: { contact: null, company: null },
  values: [
    { field: 'country', shown: 'NO', unreadable: null },
    { field: 'employees', shown: 'about sixty', unreadable: 'is not a number' },
    { field: 'deal_value', shown: '1200000 EUR', unreadable: null },
  ],
  activities: [{ kind: 'mail_clicked', at: Date.parse('2026-03-01T10:00:00Z') }],
  history: [
    {
      field: 'stage',
      from: 'new',
      to: 'qualified',
      reason: null,
      at: 0,
      cause: 'rule',
      by: '',
      charter: 3,
      rule: 'qualify',
    },
  ],
  proposals: [],
  ofDeals: [],
  openTasks: 0,
  moves: [],
  may: {
    ...{ edit: true, assign: true, pickUp: false, close: true, join: true, remove: false },
    ...{ move: true, decide: true },
  },
} as unknown as LeadDetail;

async function open(role: Role = 'admin', lead: LeadDetail = LEAD): Promise<PageTest<LeadPage>> {
  const page = await PageTest.open(LeadPage, { id: '7' });
  TestBed.inject(SessionService).signIn('x', 'y').subscribe();
  page.http.expectOne('/api/session').flush({ name: 'X', key: 'x', role });
  await page.answer('/api/leads/7', lead);
  if (lead.may.assign) await page.answer('/api/people', PEOPLE);
  return page;
}

const row = (page: PageTest<LeadPage>, name: string): string =>
  wordsOf([...page.element.querySelectorAll('.values > div')].find((one) => wordsOf(one).startsWith(name))!);

test('where it stands, values as people read them, what can’t be read and why, and what happened', async () => {
  const page = await open();
  expect(page.text).toContain('Lars Berg Bergbrygg');
  expect(wordsOf(page.find('.facts'))).toContain('B active rank 74 New Nordics');
  expect(row(page, 'Country')).toContain('Norway');
  expect(row(page, 'Deal value')).toContain('1,200,000 EUR');
  expect(row(page, 'Employees')).toContain('about sixty is not a number');
  expect(page.text).toContain('Mail clicked 1 Mar 2026');
  expect(wordsOf(page.find('.history'))).toMatch(/Stage New → Qualified/);
});

test('a value is edited in place with the version that was read; on success the lead is shown as it is then', async () => {
  const page = await open();
  await page.click('Edit Employees');
  await page.type('#edit-employees', '60');
  await page.click('Save');
  const { body, answer } = page.sent('/api/leads/7', 'PATCH');
  expect(body).toEqual({ version: 3, values: { employees: '60' }, handling: 'decide' });
  await answer({});
  await page.answer('/api/leads/7', {
    ...LEAD,
    version: 4,
    values: [{ field: 'employees', shown: '60', unreadable: null }],
  });
  expect(row(page, 'Employees')).toMatch(/^Employees 60/);
  expect(page.element.querySelector('#edit-employees')).toBeNull();
});

test('who was overtaken is told, sees the lead as it is now, and what was typed is not lost', async () => {
  const page = await open();
  await page.click('Edit Employees');
  await page.type('#edit-employees', '60');
  await page.click('Save');
  await page.sent('/api/leads/7', 'PATCH').answer({ title: 'Someone changed this lead meanwhile', status: 409 }, 409);
  await page.answer('/api/leads/7', { ...LEAD, version: 9, name: 'Lars Berg-Vik' });
  expect(page.text).toContain('Someone changed this lead meanwhile');
  expect(page.text).toContain('Lars Berg-Vik');
  expect((page.find('#edit-employees') as HTMLInputElement).value).toBe('60');
  await page.click('Save');
  expect(page.sent('/api/leads/7', 'PATCH').body).toMatchObject({ version: 9 });
});

test('Escape leaves a value as it was; who may not edit is offered nothing to edit', async () => {
  const page = await open();
  await page.click('Edit Employees');
  page
    .find('rv-value-field')
    .dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true, cancelable: true }));
  await page.settle();
  expect(page.element.querySelector('#edit-employees')).toBeNull();
  TestBed.resetTestingModule();
  const other = await open('rep', {
    ...LEAD,
    may: {
      ...{
        edit: false,
        assign: false,
        pickUp: false,
        accept: false,
        giveBack: false,
        close: false,
        join: false,
        remove: false,
      },
      ...{ move: false, decide: false },
    },
  });
  expect([...other.element.querySelectorAll('button')].map((one) => one.textContent?.trim())).not.toContain('Edit');
  expect(other.text).not.toContain('Carry as tracer');
});

test('a lead outside one’s sight is not there, and there is a way back', async () => {
  const page = await PageTest.open(LeadPage, { id: '8' });
  await page.answer('/api/leads/8', { title: 'There is nothing here', status: 404 }, 404);
  expect(page.text).toContain('There is nothing here');
  expect(page.find('a[href="/leads"]').textContent).toBe('Back to the leads');
});

test('what was said beside what is known is taken over, or what is known is kept', async () => {
  const said = [
    { field: 'country', shown: 'SE', unreadable: null, way: 'form', by: 'ask', at: 0 },
    { field: 'employees', shown: 'many', unreadable: 'is not a number', way: 'api', by: 'Fair app', at: 0 },
  ] as const;
  const page = await open('rep', { ...LEAD, said });
  expect(row(page, 'Country')).toContain('Norway They now say, by the form ask: Sweden');
  expect(row(page, 'Employees')).toContain('They now say, from Fair app: many (is not a number)');
  await page.click('Take over Country');
  const { body, answer } = page.sent('/api/leads/7/said', 'POST');
  expect(body).toEqual({ field: 'country', take: true });
  await answer(LEAD);
  await page.answer('/api/leads/7', { ...LEAD, said: [said[1]] });
  await page.click('Keep Employees as it is');
  expect(page.sent('/api/leads/7/said', 'POST').body).toEqual({ field: 'employees', take: false });
});
