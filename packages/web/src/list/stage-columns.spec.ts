import type { Stage } from '@relvik/core';
import { of } from 'rxjs';
import { PageTest, wordsOf } from '../page.fixture';
import { type ColumnSource, type StageCard, StageColumns } from './stage-columns';

const card = (id: number, name: string): StageCard => ({
  ...{ id, name, beside: 'Fjord', grade: 'A active', fitBand: 2, engagementBand: 1, rank: 80 },
});

/** Two leads that stand in New; a move to Disqualified takes a reason. */
function twoLeads() {
  const stands = new Map([
    [1, 'new'],
    [2, 'new'],
  ]);
  const moves: unknown[] = [];
  const inStage = (stage: Stage) => [...stands].flatMap(([id, key]) => (key === stage.key ? [card(id, `L${id}`)] : []));
  const source: ColumnSource = {
    page: (stage) => of(inStage(stage)),
    heads: (stages) =>
      of(
        new Map(stages.map((stage) => [stage.key, { count: inStage(stage).length + (stage.key === 'new' ? 40 : 0) }])),
      ),
    move(id, stage, reason) {
      moves.push([id, stage, reason]);
      if (stage === 'out' && reason === null) return of('say why, in a few words');
      stands.set(id, stage);
      return of(null);
    },
  };
  return { source, moves };
}
const columns = (page: PageTest<StageColumns>) => [...page.element.querySelectorAll('.stage-column')].map(wordsOf);
const press = async (page: PageTest<StageColumns>, name: string, key: string, shiftKey = true): Promise<void> => {
  page
    .find(`.stage-card[aria-label="${name}"]`)
    .dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
  await page.settle();
};

test('one column for each stage; Shift and an arrow move a card to the one beside', async () => {
  const { source, moves } = twoLeads();
  const page = await PageTest.open(StageColumns, { kind: 'lead', source });
  await page.settle();
  expect(columns(page).map((one) => one.split(' ')[0])).toEqual(['New', 'Qualified', 'Disqualified']);
  expect(columns(page)[0]).toMatch(/^New 42 L1 Fjord .* 80 L2 .* and 40 more$/);
  await press(page, 'L2', 'ArrowRight', false);
  await press(page, 'L2', 'ArrowLeft');
  expect(moves).toEqual([]);
  await press(page, 'L2', 'ArrowRight');
  expect(moves).toEqual([[2, 'qualified', null]]);
  expect(columns(page)[1]).toContain('L2');
  expect(page.text).toContain('L2 stands in Qualified now.');
});

test('a move that takes a reason waits for it; one that is left leaves the card where it is', async () => {
  const { source, moves } = twoLeads();
  const page = await PageTest.open(StageColumns, { kind: 'lead', source });
  await press(page, 'L1', 'ArrowRight');
  await press(page, 'L1', 'ArrowRight');
  expect(wordsOf(page.find('.held'))).toContain('L1 to Disqualified: say why, in a few words');
  await page.click('Leave it');
  expect(columns(page)[1]).toContain('L1');
  await press(page, 'L1', 'ArrowRight');
  await page.type('.held input', 'asked us to stop');
  await page.click('Move');
  expect(moves.at(-1)).toEqual([1, 'out', 'asked us to stop']);
  expect(columns(page)[2]).toContain('L1');
});
