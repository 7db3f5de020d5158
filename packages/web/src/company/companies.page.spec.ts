import type { CompanyDetail, CompanyPage as Page, CompanyRow } from '@relvik/contracts';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { PageTest, wordsOf } from '../page.fixture';
import { CompaniesPage } from './companies.page';
import { CompanyPage } from './company.page';

const row = (rest: Partial<CompanyRow>): CompanyRow => ({
  id: 1,
  name: 'Fjord Brygg',
  leads: 2,
  admitted: 'yes',
  scoreSet: 'leads',
  fit: 60,
  engagement: 20,
  rank: 80,
  fitBand: 1,
  engagementBand: 0,
  grade: 'B quiet',
  beside: {},
  ...rest,
});
const PAGE: Page = {
  rows: [
    row({ beside: { extra: { rank: null, fit: 7, engagement: null } } }),
    row({
      id: 2,
      name: 'Elv & Co',
      admitted: 'no',
      scoreSet: null,
      fit: null,
      engagement: null,
      rank: null,
      grade: null,
    }),
  ],
  asOf: 0,
  next: 'more',
};
const lines = (page: PageTest<unknown>) => [...page.element.querySelectorAll('tbody tr')].map(wordsOf);

test('companies with what each set gives; whom none admits is said so; pages go on and back, a search begins at the first', async () => {
  const page = await PageTest.open(CompaniesPage);
  await page.answer('/api/companies', PAGE);
  expect(lines(page)[0]).toMatch(/^Fjord Brygg .*80 60 20 Leads extra – \(7 · –\) 2$/);
  expect(lines(page)[1]).toMatch(/^Elv & Co – – – – none admits it 2$/);
  await page.click('Next');
  const [second] = page.http.match((request) => request.url === '/api/companies');
  expect(second!.request.params.get('after')).toBe('more');
  second!.flush({ ...PAGE, rows: [], next: null });
  await page.settle();
  expect(page.text).toContain('A company is there as soon as a lead names it');
  expect(page.button('Next').disabled).toBe(true);

  const navigate = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  const finder = page.find('input[type=search]') as HTMLInputElement;
  finder.value = ' brygg ';
  finder.dispatchEvent(new Event('change'));
  expect(navigate).toHaveBeenCalledWith([], { queryParams: { find: 'brygg' }, queryParamsHandling: 'merge' });
  page.component.setInput('find', 'brygg');
  await page.settle();
  const [found] = page.http.match((request) => request.url === '/api/companies');
  expect([found!.request.params.get('find'), found!.request.params.get('after')]).toEqual(['brygg', null]);

  // There is one set for companies: nothing to choose whose scores rank them. The address may say it all the same.
  expect(page.element.querySelector('p-select')).toBeNull();
  page.component.setInput('set', 'firms');
  await page.settle();
  const [ranked] = page.http.match((request) => request.url === '/api/companies');
  expect([ranked!.request.params.get('find'), ranked!.request.params.get('set')]).toEqual(['brygg', 'firms']);
});

test('a company says why it has its score, what is known of it and not of one person, and which leads it has', async () => {
  const axis = { judged: true, positive: 60, negative: 0, sum: 60, score: 60 } as const;
  const score: CompanyDetail['score'] = {
    admitted: 'yes',
    set: 'leads',
    fit: axis,
    engagement: { ...axis, positive: 20, sum: 20, score: 20 },
    signals: [
      {
        signal: 'clicks',
        axis: 'engagement',
        answer: 'yes',
        points: 20,
        account: null,
        seen: { of: 'activities', count: 3, counted: 1, newest: 0 },
      },
    ],
    held: [],
    beside: [],
  };
  const lead = {
    id: 9,
    name: 'Kari Igjen',
    status: 'won',
    grade: 'A quiet',
    rank: 90,
    fitBand: 2,
    engagementBand: 0,
    place: { kind: 'owner', rep: 'ada' },
  };
  const detail = {
    ...row({}),
    values: [
      { field: 'industry', shown: 'Brewery', unreadable: null },
      { field: 'email', shown: 'kari@b.example', unreadable: null },
      { field: 'employees', shown: 'many', unreadable: 'is not a number' },
    ],
    score,
    gradedNow: { fit: 1, engagement: 0, name: 'B quiet', verdict: 'nurture' },
    asOf: 0,
    ofLeads: [lead],
  } as unknown as CompanyDetail;
  const page = await PageTest.open(CompanyPage, { id: '1' });
  await page.answer('/api/companies/1', detail);
  expect(page.text).toContain('B quiet rank 80 2 leads');
  expect(page.text).toContain('Engagement 20 − 0 = 20');
  expect(page.text).toContain('+20 Mail clicked 1 counted of 3');
  expect(lines(page)).toEqual([expect.stringMatching(/^Kari Igjen won .*90 Ada Lindqvist$/)]);
  expect([...page.element.querySelectorAll('dt')].map(wordsOf)).toEqual(['Industry', 'Employees']);
  expect(wordsOf(page.find('dd.unreadable'))).toBe('many is not a number');
});
