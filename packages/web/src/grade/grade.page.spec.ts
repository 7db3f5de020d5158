import type { SaveDraft } from '@relvik/contracts';
import { charterState, PageTest, wordsOf } from '../page.fixture';
import { GradePage } from './grade.page';

const COUNTS = {
  routes: {},
  territories: {},
  gates: {},
  openGround: [],
  cells: [
    { scoreSet: 'leads', fitBand: 2, engagementBand: 1, count: 40, won: 18, closed: 20 },
    { scoreSet: 'leads', fitBand: 0, engagementBand: 0, count: 9, won: 1, closed: 9 },
  ],
};

async function open(draft: boolean): Promise<PageTest<GradePage>> {
  const page = await PageTest.open(GradePage, {}, charterState(draft ? {} : null));
  await page.answer('/api/rule-counts', COUNTS);
  await page.answer('/api/score-sets/leads/distribution', { fit: [], engagement: [] });
  return page;
}

test('the grid shows the best fit on top, what each cell asks for, its leads, and the won share where enough were closed', async () => {
  const page = await open(false);
  const rows = [...page.element.querySelectorAll('table.grid tbody tr')].map(wordsOf);
  expect(rows[0]).toMatch(/^A Nurture 0 leads Hand over now 40 leads · 90% won$/);
  expect(rows[2]).toMatch(/^C Decline 9 leads No action 0 leads$/);
  expect(page.text).toContain('C below 40 B [40, 70) A 70 and above');
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
