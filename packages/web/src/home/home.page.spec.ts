import { TestBed } from '@angular/core/testing';
import type { Attention, Home, LeadRow, Role } from '@relvik/contracts';
import { PageTest, wordsOf } from '../page.fixture';
import { SessionService } from '../session/session.service';
import { HomePage } from './home.page';
import { HomeService } from './home.service';

const HOME: Home = {
  asOf: null,
  watershed: { links: [] },
  course: { intake: 1300, score: 1300, grade: 1300, gates: 20, territories: 20, routes: 20, people: 20 },
  attention: [],
  others: { contact: 80, company: 31, deal: 12 },
  byStatus: [
    { status: 'open', count: 1200 },
    { status: 'won', count: 100 },
  ],
  byStage: [{ stage: 'new', count: 30 }],
  byTerritory: [
    { territory: 'nordics', count: 40 },
    { territory: null, count: 10 },
  ],
  bySource: [{ source: 'Referral', count: 7 }],
  notices: [
    { id: 1, kind: 'last-resort', record: { kind: 'lead', id: 12 }, name: 'Ina Vik', at: Date.now() - 7_200_000 },
  ],
};

const LEAD = {
  id: 5,
  name: 'Lars Berg',
  company: 'Bergbrygg',
  grade: 'A active',
  fitBand: 2,
  engagementBand: 1,
  rank: 130,
  territory: 'nordics',
  place: { kind: 'owner', rep: 'ada' },
  arrived: Date.now() - 3_600_000,
} as unknown as LeadRow;

async function open(role: Role, home: Partial<Home> = {}): Promise<PageTest<HomePage>> {
  TestBed.configureTestingModule({});
  const page = await PageTest.open(HomePage);
  TestBed.inject(SessionService).signIn('x', 'y').subscribe();
  page.http.expectOne('/api/session').flush({ name: 'X', key: 'ada', role });
  TestBed.inject(HomeService).load();
  await page.answer('/api/home', { ...HOME, ...home });
  await page.answer('/api/leads', { rows: [LEAD], next: null });
  return page;
}

const every: readonly (readonly [Attention, string, string])[] = [
  [{ what: 'bay-unjudged', count: 3, since: null, about: 'employees' }, '3 leads can’t be judged', '/bay'],
  [{ what: 'bay-nobody-free', count: 1, since: null, about: null }, '1 lead waits for someone free', '/bay'],
  [{ what: 'bay-loop', count: 2, since: null, about: null }, '2 leads run in a circle', '/bay'],
  [
    { what: 'last-resort', count: 1, since: null, about: 'operations' },
    '1 lead was taken by no route',
    '/leads?queue=operations',
  ],
  [{ what: 'queue', count: 4, since: null, about: 'projects' }, '4 leads wait in Projects', '/leads?queue=projects'],
  [
    { what: 'open-ground', count: 1, since: null, about: null },
    '1 qualified lead on open ground',
    '/leads?territory=none&stage=qualified',
  ],
  [{ what: 'held-back', count: 2, since: null, about: '3' }, '2 leads of charter 3 stand still', '/charters'],
  [{ what: 'duplicates', count: 1, since: null, about: null }, '1 possible duplicate', '/suggestions'],
  [{ what: 'draft-problems', count: 2, since: null, about: null }, 'The draft has 2 problems', '/routes'],
];

test('all that can need someone is said in words, and opens where it is settled', async () => {
  const page = await open('manager', { attention: every.map(([attention]) => attention) });
  const needs = [...page.element.querySelectorAll<HTMLAnchorElement>('a.need')];
  expect(needs).toHaveLength(every.length);
  needs.forEach((need, n) => {
    expect(wordsOf(need)).toContain(every[n]![1]);
    expect(need.getAttribute('href')).toBe(every[n]![2]);
  });
});

test('an admin corrects values that can’t be judged together', async () => {
  const page = await open('admin', { attention: [{ what: 'bay-unjudged', count: 1, since: null, about: null }] });
  expect(page.find('a.need').getAttribute('href')).toBe('/unjudged');
});

test('what waits longest is told with its age; where nothing waits that is said too', async () => {
  const since = Date.now() - 3 * 86_400_000;
  const waiting = await open('manager', { attention: [{ what: 'queue', count: 2, since, about: 'projects' }] });
  expect(waiting.text).toContain('the oldest since 3 days ago');
  expect(waiting.text).toContain('Ina Vik was taken by no route 2 hours ago');
  TestBed.resetTestingModule();
  const calm = await open('manager');
  expect(calm.text).toContain('Nothing waits. Every lead has its place.');
});

test('a manager sees how many leads stand where, each number opening those behind it', async () => {
  const page = await open('manager');
  expect(page.text).toContain('Home 1,300 leads in your teams');
  const links = [...page.element.querySelectorAll<HTMLAnchorElement>('a.figure, a.bar')].map((one) => [
    wordsOf(one).replace(/ (Ada|Bergbrygg).*/, ''),
    one.getAttribute('href'),
  ]);
  expect(links).toEqual(
    expect.arrayContaining([
      ['1,200 Open', '/leads?status=open'],
      ['New 30', '/leads?stage=new'],
      ['Nordics 40', '/leads?territory=nordics'],
      ['None 10', '/leads?territory=none'],
    ]),
  );
});

test('counts that were kept for a while say when they were counted', async () => {
  const fresh = await open('admin');
  expect(fresh.text).not.toContain('counted at');
  expect(fresh.text).toContain('80 Contacts 31 Companies 12 Open deals');
  TestBed.resetTestingModule();
  const asOf = new Date(2026, 2, 1, 9, 5).getTime();
  expect((await open('admin', { asOf })).text).toContain('1,300 leads in all , counted at 09:05');
});
