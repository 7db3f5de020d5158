import { TestBed } from '@angular/core/testing';
import type { Finding, RouteKey, TeamKey } from '@relvik/core';
import { withPoints } from '../../../core/src/charter/changed-charter.fixture';
import { charterState, CHARTER, PageTest } from '../page.fixture';
import { ImpactService } from '../impact/impact.service';
import { EnactPage } from './enact.page';

const changed = {
  ...withPoints(CHARTER, 'trade', 20),
  name: 'Next',
};

async function submit(page: PageTest<EnactPage>): Promise<void> {
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
}

test('what one should know before is said', async () => {
  const findings: Finding[] = [
    {
      code: 'empty-team',
      severity: 'warning',
      stream: 'qualified',
      route: 'north' as RouteKey,
      team: 'north' as TeamKey,
    },
  ];
  const page = await PageTest.open(EnactPage, {}, charterState({ charter: changed, findings }));
  expect(page.text).toContain('Before you enact Nobody is in Team north: what the route Nordics matches');
});

test('where a draft and the charter in force both changed the same is said in words, and to what', async () => {
  const page = await PageTest.open(EnactPage, {}, charterState({ charter: changed, stale: true }));
  await page.click('Bring up to date…');
  await page.answer('/api/drafts/2/up-to-date', {
    charter: changed,
    base: 2,
    clashes: [
      { path: '/scoreSets/leads/signals/trade/points', inForce: 40, draft: 20 },
      { path: '/streams/main/routes/north/when', inForce: {}, draft: {} },
    ],
  });
  expect(page.text).toContain('signal “A trade we serve”, points: 20 in yours, 40 in force');
  expect(page.text).toContain('route “Nordics”, condition');
});

test('what changes is read before it acts; without a reason nothing is sent', async () => {
  const page = await PageTest.open(EnactPage, {}, charterState({ charter: changed }));
  expect(page.text).toContain('The draft Next comes into force in place of 1 · Small');
  expect(page.text).toContain('Points for “A trade we serve” +60 → +20');
  await submit(page);
  expect(page.text).toContain('Say why this comes into force');
  page.http.expectNone('/api/drafts/2/enact');
});

test('with a reason it is enacted, and the rescore’s progress is shown to its end', async () => {
  const page = await PageTest.open(EnactPage, {}, charterState({ charter: changed }));
  await page.type('#reason', 'because');
  await submit(page);
  const { body, answer } = page.sent('/api/drafts/2/enact', 'POST');
  expect(body).toEqual({ version: 4, reason: 'because', scope: { which: 'all' }, reach: 'score', tasks: true });
  const job = {
    id: 1,
    state: 'running',
    charter: 2,
    scope: { which: 'all' },
    reach: 'score',
    startedBy: 'x',
    done: 0,
    total: 10,
    changed: 0,
    startedAt: 0,
    endedAt: null,
  };
  await answer(job, 202);
  await page.passes(0);
  await page.answer('/api/jobs/latest', { ...job, done: 4, expectedEnd: new Date(2026, 2, 2, 14, 5).getTime() });
  expect(page.text).toContain('Done by about 14:05.');
  expect(page.text).toContain('The leads are being rescored: 4 of 10.');
  await page.passes(400);
  await page.answer('/api/jobs/latest', { ...job, state: 'done', done: 10, changed: 3, endedAt: 1 });
  expect(page.text).toContain('10 leads were rescored; 3 changed their grade.');
});

test('a draft behind what is in force says so, a refusal is shown, and without a draft there is nothing to enact', async () => {
  const page = await PageTest.open(EnactPage, {}, charterState({ stale: true }));
  expect(page.text).toContain('Another charter has come into force since');
  expect(page.text).toContain('Nothing: the draft is the same as what is in force');
  expect(page.button('Enact Next').disabled).toBe(true);
  await page.click('Bring up to date…');
  const merged = { charter: changed, clashes: [{ path: '/gates/decline', inForce: null, draft: null }], base: 2 };
  await page.answer('/api/drafts/2/up-to-date', merged);
  expect(page.text).toContain('yours stands, unless you change it afterwards: Gate');
  await page.click('Take it over');
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  expect(body).toEqual({ version: 4, charter: changed, base: 2 });
  await answer(charterState({ charter: changed, base: 2, version: 5 }));
  await page.type('#reason', 'because');
  await submit(page);
  await page
    .sent('/api/drafts/2/enact', 'POST')
    .answer({ type: 'about:blank', status: 409, title: 'Someone changed this draft meanwhile' }, 409);
  expect(page.text).toContain('Someone changed this draft meanwhile');
});

test('who meets a gate already is listed, and can be let through with the enacting', async () => {
  const page = await PageTest.open(EnactPage, {}, charterState({ charter: changed }));
  const impacts = TestBed.inject(ImpactService);
  const asked = { before: 0, after: 2 };
  impacts.impact.set({ facets: { grade: { changed: 1 }, stage: { changed: 0 } }, chosen: 4, asked } as never);
  const moves = [{ from: 'new', to: 'qualified', count: 2 }];
  impacts.meeting.set({
    count: 3,
    chosen: 2,
    moves,
    tasks: 4,
    deals: 2,
    leads: [{ id: 7, from: 'new', to: 'qualified' }],
  });
  await page.settle();
  expect(page.text).toContain('3 leads meet a gate already. They move when something next happens to them');
  expect(page.text).toContain('About 2 a person is asked.');
  await page.click('See which');
  await page.answer('/api/lead-names', [{ id: 7, name: 'Kari', company: 'Fjord' }]);
  await page.settle();
  expect(page.text).toContain('Kari · Fjord New → Qualified');
  await page.click('Let them through now');
  expect(page.text).toContain('2 leads meet a gate already and move now. 1 more, which you did not choose');
  expect(page.text).toContain('2 New → Qualified');
  expect(page.text).toContain('Gates make a deal of 2 leads with that.');
  expect(page.text).toContain('Gates make 4 tasks for their owners with that.');
  page.find('.meeting input[type=checkbox]').click();
  await page.settle();
  await page.type('#reason', 'because');
  await submit(page);
  expect(page.sent('/api/drafts/2/enact', 'POST').body).toMatchObject({ reach: 'gates', tasks: false });
});
