import { PageTest } from '../page.fixture';
import { DistributionChart } from './distribution-chart';

const bands = ['C', 'B', 'A'].map((name) => ({ key: name.toLowerCase(), name }));
const BANDS = { bands, cuts: [40, 70] };

async function drawn(inputs: Readonly<Record<string, unknown>> = {}) {
  const page = await PageTest.open(DistributionChart, {
    counts: [
      { score: 0, count: 2 },
      { score: 100, count: 6 },
    ],
    bounds: { least: 0, most: 100, decimals: 0 },
    bands: BANDS,
    bandsInForce: BANDS,
    label: 'Leads by Fit',
    movable: true,
    ...inputs,
  });
  const moved: { at: number; to: number }[] = [];
  page.component.instance.cutMoved.subscribe((move) => moved.push(move));
  const handles = () => [...page.element.querySelectorAll<SVGGElement>('g.cut')];
  const press = (handle: number, key: string): void => {
    handles()[handle]?.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  };
  return { page, moved, handles, press };
}

test('the lowest and the highest score lie in the first and the last bar, as tall as they are many', async () => {
  const { page } = await drawn();
  const heights = [...page.element.querySelectorAll('rect.bin')].map((bar) => Number(bar.getAttribute('height')));
  expect(heights.filter((height) => height > 0)).toHaveLength(2);
  expect(heights.at(-1)).toBeCloseTo(3 * (heights[0] ?? 0));
});

test('a handle moves by the arrow keys a point at a time, also when keys come faster than pictures', async () => {
  const { moved, handles, press } = await drawn();
  expect(handles()[0]?.getAttribute('aria-label')).toBe('Handle of the cut between C and B');
  for (const key of ['ArrowRight', 'ArrowUp', 'ArrowRight', 'ArrowLeft', 'Enter']) press(0, key);
  expect(moved).toEqual([
    { at: 0, to: 41 },
    { at: 0, to: 42 },
    { at: 0, to: 43 },
    { at: 0, to: 42 },
  ]);
});

test('a cut stays between its neighbours and inside the axis', async () => {
  const { moved, press } = await drawn({ bands: { bands, cuts: [69, 70] } });
  press(0, 'ArrowRight');
  expect(moved).toEqual([]);
  press(1, 'ArrowLeft');
  expect(moved).toEqual([]);
  press(1, 'ArrowRight');
  expect(moved).toEqual([{ at: 1, to: 71 }]);
});

test('the draft’s line is drawn over it, cuts that the draft moved are marked, and without a draft nothing moves', async () => {
  const { page, handles } = await drawn({
    draftCounts: [{ score: 50, count: 8 }],
    bands: { bands, cuts: [40, 75] },
  });
  expect(page.element.querySelectorAll('path.draft-spread')).toHaveLength(1);
  expect(handles().map((handle) => handle.classList.contains('moved'))).toEqual([false, true]);
  page.component.setInput('movable', false);
  page.component.setInput('draftCounts', null);
  await page.settle();
  expect(page.element.querySelector('path.draft-spread')).toBeNull();
  expect(handles().map((handle) => handle.getAttribute('tabindex'))).toEqual([null, null]);
  expect(page.find('svg').getAttribute('role')).toBe('img');
});
