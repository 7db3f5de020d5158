import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { type LeadRow, NO_CELLS } from '@relvik/contracts';
import { PageTest, PEOPLE, wordsOf } from '../page.fixture';
import { LeadsPage } from './leads.page';

const row = (id: number, more: Partial<LeadRow> = {}): LeadRow => ({
  id,
  name: `Lead ${id}`,
  company: 'Fjelldal Brygg',
  status: 'open',
  fit: 60,
  engagement: 40,
  rank: 100,
  admitted: 'yes',
  scoreSet: 'leads',
  fitBand: 1,
  engagementBand: 1,
  grade: 'B active',
  stage: 'qualified',
  pipeline: 'leads',
  territory: 'nordics',
  place: { kind: 'owner', rep: 'ada' as never },
  acceptance: null,
  arrived: Date.now() - 7_200_000,
  ...NO_CELLS,
  asks: [],
  waits: [],
  ...more,
});

async function open(inputs: Record<string, string> = {}): Promise<PageTest<LeadsPage>> {
  const page = await PageTest.open(LeadsPage, inputs);
  await page.answer('/api/people', PEOPLE);
  return page;
}

test('the filters of the address are asked of the server, and rows say grade, place and age', async () => {
  const page = await open({ stage: 'qualified', least: '50', find: 'fjell' });
  const asked = page.http.match((request) => request.url === '/api/leads').at(-1);
  expect(asked?.request.params.toString()).toBe('status=open&stage=qualified&least=50&find=fjell&order=rank&size=50');
  asked?.flush({
    rows: [
      row(1),
      row(2, { place: { kind: 'bay', reason: { why: 'unjudged', fields: ['employees'] } }, rank: null, grade: null }),
    ],
    next: null,
    asOf: Date.now(),
  });
  await page.answer('/api/lead-count', { count: 2 });
  expect(page.text).toContain('Leads 2 leads');
  expect(page.text).toContain('Lead 1 Fjelldal Brygg B 100 60 40 Qualified Nordics Ada Lindqvist 2 hours ago');
  expect(page.text).toContain('Bay: can’t be judged');
  expect(page.find('.place.bay').title).toBe('Can’t be judged: Employees');
});

test('a list tells of pipelines, of what gates ask, and of what each lead waits for, where one chose these columns', async () => {
  const page = await open({ columns: 'pipeline,asks,waits' });
  const asked = page.http.match((request) => request.url === '/api/leads').at(-1);
  expect(asked?.request.params.get('columns')).toBe('pipeline,asks,waits');
  const waits = [{ gate: 'decline', words: 'Employees is blank' }];
  asked?.flush({ rows: [row(1, { asks: ['qualify'], waits }), row(2)], next: null, asOf: Date.now() });
  await page.answer('/api/lead-count', { count: 2 });
  const rows = [...page.element.querySelectorAll('tbody tr')].map(wordsOf);
  expect(rows[0]).toContain('Lead 1 Leads Qualify Decline: Employees is blank');
  expect(rows[1]).toContain('Lead 2 Leads – –');
});

test('the next page begins after the last one’s mark, and back goes back', async () => {
  const page = await open();
  await page.answer('/api/leads', { rows: [row(1)], next: 'mark-1', asOf: 0 });
  await page.click('Next');
  const asked = page.http.expectOne((request) => request.url === '/api/leads');
  expect(asked.request.params.get('after')).toBe('mark-1');
  asked.flush({ rows: [row(2)], next: null, asOf: 0 });
  await page.settle();
  expect(page.text).toContain('51 to 51');
  expect(page.button('Next').disabled).toBe(true);
  await page.click('Back');
  expect(page.http.expectOne((request) => request.url === '/api/leads').request.params.get('after')).toBeNull();
});

test('finding changes the address, not only the list', async () => {
  const page = await open();
  await page.answer('/api/leads', { rows: [], next: null, asOf: 0 });
  const navigate = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  await page.type('input.finder', 'solheim');
  expect(navigate).toHaveBeenCalledWith([], {
    queryParams: { finding: null, find: 'solheim' },
    queryParamsHandling: 'merge',
  });
});

test('an empty list says what to do; a failed one says why', async () => {
  const page = await open();
  await page.answer('/api/leads', { rows: [], next: null, asOf: 0 });
  expect(page.text).toContain('No lead matches. Take a filter away');
  TestBed.resetTestingModule();
  const failed = await open();
  await failed.answer(
    '/api/leads',
    {
      type: 'about:blank',
      status: 422,
      title: 'Something in it is not right',
      errors: [{ path: '/least', message: 'must be a number' }],
    },
    422,
  );
  expect(failed.text).toContain('least must be a number');
});

test('a click on the head of a column ranks the list by it; what ranks it is seen, and sorted the one way or the other', async () => {
  const page = await open({ columns: 'rank,fit,arrived', set: 'leads', order: 'newest' });
  const asked = page.http.match((request) => request.url === '/api/leads').at(-1);
  expect([asked?.request.params.get('set'), asked?.request.params.get('columns')]).toEqual(['leads', 'set:leads']);
  asked?.flush({ rows: [row(1, { scores: { leads: { rank: 100, fit: 60, engagement: 40 } } })], next: null, asOf: 0 });
  await page.settle();
  const heads = () =>
    [...page.element.querySelectorAll('th:not(.tick)')].map((head) => [wordsOf(head), head.getAttribute('aria-sort')]);
  expect(heads()).toEqual([
    ['Lead', null],
    ['Rank', null],
    ['Fit', null],
    ['Arrived ↓', 'descending'],
    ['Leads', null],
  ]);
  const navigate = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  for (const [head, change] of [
    ['Rank', { set: null, order: null }],
    ['Fit', { set: null, order: 'fit' }],
    ['Arrived ↓', { order: 'oldest' }],
    ['Leads', { set: 'leads', order: null }],
  ] as const) {
    await page.click(head);
    expect(navigate).toHaveBeenLastCalledWith([], {
      queryParams: { finding: null, ...change },
      queryParamsHandling: 'merge',
    });
  }
  page.component.setInput('order', undefined);
  await page.settle();
  await page.answer('/api/leads', { rows: [], next: null, asOf: 0 });
  expect(heads().at(-1)).toEqual(['Leads ↓', 'descending']);
});
