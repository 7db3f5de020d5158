import type { Fairness } from '@relvik/contracts';
import { PageTest, wordsOf } from '../page.fixture';
import { FairnessPage } from './fairness.page';

const FAIRNESS = {
  since: Date.UTC(2026, 1, 1),
  cut: false,
  routes: [
    {
      ...{ route: 'north', given: 12, waited: 1, index: 0.9235 },
      shares: [
        { rep: 'ada', weight: 1, should: 8, got: 9, passedOver: [] },
        { rep: 'bo', weight: 0.5, should: 4, got: 3, passedOver: [{ why: 'away', leads: 5 }] },
      ],
    },
  ],
  now: [{ rep: 'bo', exclusion: { why: 'at-limit', open: 2, limit: 2 } }],
} as unknown as Fairness;

test('what each got stands beside what they should have had, with the reasons and the index', async () => {
  const page = await PageTest.open(FairnessPage);
  await page.answer('/api/fairness', FAIRNESS);
  expect(page.text).toContain('Nordics 12 given away , for 1 nobody was free ; index 0.92');
  const rows = [...page.element.querySelectorAll('tbody tr')].map(wordsOf);
  expect(rows).toEqual(['Ada Lindqvist 9 8', 'Bo Rask 3 4 0.5 away 5']);
});

test('of one person: what they got of their share, and what stands in their way now', async () => {
  const page = await PageTest.open(FairnessPage, { rep: 'bo' });
  await page.answer('/api/fairness', FAIRNESS);
  expect(page.text).toContain('Bo Rask got 3 of 4 leads; at this moment: has 2 open leads, the limit is 2.');
  expect(page.text).not.toContain('Ada Lindqvist 9 8');
});
