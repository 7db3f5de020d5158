import { NO_CELLS, type RecordDetail, type RecordRow } from '@relvik/contracts';
import type { Score } from '@relvik/core';
import { PageTest } from '../page.fixture';
import { RecordPage } from './record.page';
import { RecordsPage } from './records.page';
import { SuggestionsPage } from './suggestions.page';

const ROW: RecordRow = {
  ...{ id: 7, name: 'Fjord Brygg', owner: 'ada', admitted: 'yes', scoreSet: 'fleet', arrived: 0, leads: 3 },
  ...{ fit: 40, engagement: 20, rank: 60, fitBand: 1, engagementBand: 1, grade: 'good' },
  ...{ ties: { contact: null, company: null }, status: null, stage: null, ...NO_CELLS },
};

const NONE: Score['fit'] = { judged: false, fields: [] };
const UNSCORED: Score = { admitted: 'no', set: null, fit: NONE, engagement: NONE, signals: [], held: [], beside: [] };

function company(change: Partial<RecordDetail> = {}): RecordDetail {
  return {
    ...{ ...ROW, kind: 'company', version: 3, asOf: 1000, gradedNow: null, closeReason: null, lead: null },
    score: UNSCORED,
    values: [],
    said: [],
    activities: [],
    history: [
      {
        field: 'joined',
        from: null,
        to: '9',
        at: 500,
        cause: 'hand',
        by: 'Runa',
        charter: null,
        rule: null,
        reason: null,
      },
    ],
    ...{ ofContacts: [], ofDeals: [], ofLeads: [] },
    knownBy: [{ kind: 'name', text: 'Fjord Brygg' }],
    ...{ leadsDue: 0, openTasks: 0 },
    joined: [{ id: 9, name: 'Fjord', at: 500, undoUntil: 2000 }],
    may: { edit: true, assign: false, decide: false },
    ...{ proposals: [], notMoved: [] },
    ...change,
  };
}

test('a list of a kind that no set scores shows the newest first, without scores; the next page begins after the mark of the last', async () => {
  const page = await PageTest.open(RecordsPage, { kind: 'company' });
  const asked = (): URLSearchParams => {
    const [first] = page.http.match(({ url }) => url === '/api/companies');
    if (first === undefined) throw new Error('no page was asked for');
    first.flush({ rows: [ROW], asOf: 0, next: 'mark' });
    return new URLSearchParams(first.request.params.toString());
  };
  const first = asked();
  expect([first.get('after'), first.get('order')]).toEqual([null, 'newest']);
  await page.answer('/api/company-count', { count: 1118 });
  expect(page.text).toContain('Companies 1,118 companies');
  expect(page.text).toContain('Fjord Brygg');
  expect(page.text).not.toContain('Rank');
  await page.click('Next');
  expect(asked().get('after')).toBe('mark');
});

test('a company shows what was joined into it and takes it apart; joining with another is looked at first', async () => {
  const page = await PageTest.open(RecordPage, { kind: 'company', id: '7' });
  await page.answer('/api/companies/7', company());
  expect(page.text).toContain('Fjord (company 9) was joined into this one');
  expect(page.text).toContain('Company 9 was joined into it');
  await page.click('Take it apart again');
  await page.sent('/api/companies/9/joined', 'DELETE').answer(company({ id: 9, joined: [] }));
  await page.answer('/api/companies/7', company({ joined: [] }));
  expect(page.text).not.toContain('was joined into this one');

  await page.click('Join with another company…');
  await page.type('#join-with', '12');
  await page.click('Show what would happen');
  await page.answer('/api/companies/7/join/12', {
    ...{ older: ROW, younger: { ...ROW, id: 12, name: 'Fjord Bryggeri' }, activities: 1 },
    fields: [
      { field: 'company.industry', older: 'Brewery', younger: 'Beer', takesYounger: false },
      { field: 'company.employees', older: null, younger: '60', takesYounger: true },
    ],
  });
  expect(page.text).toContain('Fjord Bryggeri (company 12) goes into it with 1 activity');
  page.find('input[aria-label$="take Beer"]').click();
  await page.settle();
  await page.click('Join the two');
  expect(page.sent('/api/companies/7/join', 'POST').body).toEqual({
    other: 12,
    take: ['company.employees', 'company.industry'],
  });
});

test('whoever may not edit a company can neither join it nor take it apart', async () => {
  const page = await PageTest.open(RecordPage, { kind: 'company', id: '7' });
  await page.answer('/api/companies/7', company({ may: { edit: false, assign: false, decide: false } }));
  expect(page.text).toContain('was joined into this one');
  expect(page.element.querySelector('rv-party-joins button')).toBeNull();
});

test('a suggestion leads to looking at the two; one that is refused goes', async () => {
  const page = await PageTest.open(SuggestionsPage);
  const [older, younger] = [
    { id: 7, name: 'Fjord Brygg' },
    { id: 12, name: 'Fjord Brygg' },
  ];
  await page.answer('/api/suggestions', [{ id: 1, kind: 'company', older, younger, at: 0 }]);
  expect(page.find('td:last-child a').getAttribute('href')).toBe('/companies/7?join=12');
  await page.click('company 12 is not 7');
  await page.sent('/api/suggestions/1', 'DELETE').answer([]);
  expect(page.text).toContain('no two contacts or companies look like one');
});
