import { TestBed } from '@angular/core/testing';
import type { SaveDraft } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import { CHARTER, charterState, PageTest, wordsOf } from '../page.fixture';
import { GradePage } from './grade.page';
import { VerdictRecipients } from './verdict-recipients';

const COUNTS = {
  routes: {},
  routesChanged: {},
  territories: {},
  openGround: [],
  cells: [
    { scoreSet: 'leads', fitBand: 'a', engagementBand: 'active', count: 40, won: 18, closed: 20 },
    { scoreSet: 'leads', fitBand: 'c', engagementBand: 'quiet', count: 9, won: 1, closed: 9 },
  ],
};

async function open(draft: boolean, charter?: Charter): Promise<PageTest<GradePage>> {
  const state = draft ? (charter === undefined ? {} : { charter }) : null;
  const page = await PageTest.open(GradePage, {}, charterState(state));
  await page.answer('/api/rule-counts', COUNTS);
  await page.answer('/api/score-sets/leads/distribution', { fit: [], engagement: [] });
  return page;
}

test('the grid shows the best fit on top, what each cell asks for, its leads and their share, and the won share with its interval', async () => {
  const page = await open(false);
  const rows = [...page.element.querySelectorAll('table.grid tbody tr')].map(wordsOf);
  expect(rows[0]).toMatch(/^A Nurture 0 0% Hand over now 40 82% won 90% 70–97 of 20$/);
  expect(rows[2]).toMatch(/^C Decline 9 18% won 11% 2–43 of 9 No action 0 0%$/);
  expect(page.text).toContain('C below 40 B [40, 70) A 70 and above');
  const cell = page.find('a[aria-label="40 leads graded A active"]');
  expect(cell.getAttribute('href')).toBe('/leads?status=any&fit=a&engagement=active');
});

test('a cut is saved into the draft; one that makes no bands is not made, and says why', async () => {
  const page = await open(true);
  await page.type('input[aria-label="Fit cut between B and A"]', '30');
  expect(page.text).toContain('must be above the cut before it, 40');
  await page.saved();
  page.http.expectNone('/api/drafts/2');
  await page.type('input[aria-label="Fit cut between B and A"]', '55');
  expect(page.text).not.toContain('must be above');
  await page.saved();
  const { body } = page.sent('/api/drafts/2', 'PUT');
  expect((body as SaveDraft).charter.scoreSets[0]!.grid.fit.cuts).toEqual([40, 55]);
});

test('a band is renamed in place; its key stays', async () => {
  const page = await open(true);
  await page.type('input[aria-label="Fit band B"]', 'Middling');
  await page.saved();
  const saved = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter.scoreSets[0]!.grid;
  expect(saved.fit.bands).toEqual([
    { key: 'c', name: 'C' },
    { key: 'b', name: 'Middling' },
    { key: 'a', name: 'A' },
  ]);
});

test('a new band takes the upper half of the widest; as few as there may be are not taken out', async () => {
  const page = await open(true);
  await page.click('Add a Fit band');
  expect(page.element.querySelector<HTMLInputElement>('input[aria-label="Fit cut between C and New"]')?.value).toBe(
    '20',
  );
  await page.saved();
  const saved = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter.scoreSets[0]!.grid;
  expect([saved.fit.bands.map(({ name }) => name), saved.fit.cuts]).toEqual([
    ['C', 'New', 'B', 'A'],
    [20, 40, 70],
  ]);
  // An engagement of two bands keeps both.
  expect(page.element.querySelector('button[aria-label^="Take out Engagement"]')).toBeNull();
});

test('before a band is taken out it is asked what takes over, and which rules name it', async () => {
  const when = { test: 'one-of', subject: { kind: 'band', axis: 'fit' }, values: ['b'] } as const;
  const charter: Charter = { ...CHARTER, gates: CHARTER.gates.map((gate, i) => (i === 0 ? { ...gate, when } : gate)) };
  const page = await open(true, charter);
  await page.click('Take out Fit band B');
  expect(page.text).toContain('Named in gate “Qualify”');
  page.http.expectNone('/api/drafts/2');
  await page.click('Take out');
  await page.saved();
  const saved = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter;
  expect(saved.scoreSets[0]!.grid).toMatchObject({
    fit: { bands: [{ key: 'c' }, { key: 'a' }], cuts: [70] },
    cells: [
      ['decline', 'no-action'],
      ['nurture', 'hand-over-now'],
    ],
  });
  expect(saved.gates[0]!.when).toEqual({ ...when, values: ['c'] });
});

test('for each verdict it is chosen who is told when a lead gets it; by itself nobody is', async () => {
  const inForce = await PageTest.open(VerdictRecipients, {}, charterState(null));
  expect(inForce.text).toContain('Hand over now nobody');
  TestBed.resetTestingModule();
  const page = await PageTest.open(VerdictRecipients, {}, charterState({}));
  page.component.instance['setRecipients']('hand-over-now', ['operations', 'owner']);
  await page.saved();
  const [first] = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter.verdicts;
  expect(first).toEqual({ key: 'hand-over-now', name: 'Hand over now', notify: ['owner', 'operations'] });
});

test('where several sets grade, the leads of a cell are those that this one grades', async () => {
  const charter: Charter = {
    ...CHARTER,
    scoreSets: [...CHARTER.scoreSets, { ...CHARTER.scoreSets[0]!, key: 'more', name: 'More' }],
  };
  const page = await open(true, charter);
  expect(page.find('a[aria-label="40 leads graded A active"]').getAttribute('href')).toBe(
    '/leads?status=any&gradedBy=leads&fit=a&engagement=active',
  );
});
