import type { SaveDraft } from '@relvik/contracts';
import { charterState, CHARTER, PageTest } from '../page.fixture';
import { ScorePage } from './score.page';

const SPREAD = {
  fit: [
    { score: 60, count: 3 },
    { score: 0, count: 1 },
  ],
  engagement: [{ score: 20, count: 4 }],
  unjudged: 1,
};
const points = 'input[aria-label="Points for A trade we serve"]';

test('without a draft every signal is read with its points and its condition in words; nothing can be typed', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState(null));
  await page.answer('/api/distribution', SPREAD);
  expect(page.element.querySelector('input')).toBeNull();
  for (const part of [
    '4 signals',
    'A trade we serve',
    'Industry is Brewery or Fish farm',
    '+60',
    'Free mailbox',
    '−10',
    'Mail clicked · each, at most 3',
    'This is in force',
  ]) {
    expect(page.text).toContain(part);
  }
});

test('typed points are saved into the draft with the version that was read', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/distribution', SPREAD);
  await page.type(points, '45');
  expect(page.find('tr.in-draft-row s').textContent).toBe('+60');
  await page.saved();
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  const { version, charter } = body as SaveDraft;
  expect(version).toBe(4);
  expect(charter.scoreSet.signals.map((signal) => signal.points)).toEqual([45, 74, -10, 20]);
  await answer(charterState({ version: 5, charter }));
  expect(page.find('tr.in-draft-row s').textContent).toBe('+60');
  expect(page.text).toContain('1 changed');
});

test('what is no number, or the same as before, is not saved', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/distribution', SPREAD);
  await page.type(points, '');
  expect((page.find(points) as HTMLInputElement).value).toBe('60');
  await page.type(points, '60');
  await page.saved();
  page.http.expectNone('/api/drafts/2');
});

test('the distribution is drawn with the cuts over it; those that the draft moved are marked', async () => {
  const { grid } = CHARTER.scoreSet;
  const charter = {
    ...CHARTER,
    scoreSet: { ...CHARTER.scoreSet, grid: { ...grid, fit: { ...grid.fit, cuts: [40, 75] } } },
  };
  const page = await PageTest.open(ScorePage, {}, charterState({ charter }));
  await page.answer('/api/distribution', SPREAD);
  const [fit] = [...page.element.querySelectorAll('svg')];
  expect([...(fit?.querySelectorAll('.cut text') ?? [])].map((one) => one.textContent)).toEqual(['40', '75']);
  expect([...(fit?.querySelectorAll('.cut.moved text') ?? [])].map((one) => one.textContent)).toEqual(['75']);
  expect([...(fit?.querySelectorAll('.band') ?? [])].map((one) => one.textContent)).toEqual(['C', 'B', 'A']);
  const heights = [...(fit?.querySelectorAll('rect.bin') ?? [])].map((bar) => Number(bar.getAttribute('height')));
  expect(heights.filter((height) => height > 0)).toHaveLength(2);
  expect(Math.max(...heights)).toBeCloseTo(3 * (heights.find((height) => height > 0) ?? 0));
});

test('what can’t be loaded says why', async () => {
  const page = await PageTest.open(ScorePage);
  expect(page.text).toContain('Loading …');
});

test('a signal is copied, changes places, is taken out and comes back', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/distribution', SPREAD);
  const names = () =>
    [...page.element.querySelectorAll('tr[rv-signal-row] > td:first-child')].map((cell) => cell.textContent.trim());
  const before = names();
  expect(page.text).not.toContain('Undo the last change');
  await page.click('Edit A trade we serve');
  expect(page.button('Move it up').disabled).toBe(true);
  await page.click('Copy it');
  expect(names()).toEqual([before[0], `${before[0]}, copy`, ...before.slice(1)]);
  await page.click('Move it down');
  expect(names().slice(0, 3)).toEqual([before[0], before[1], `${before[0]}, copy`]);
  await page.click('Take it out');
  // Three changes within a second are one step back.
  await page.click('Undo the last change');
  expect(names()).toEqual(before);
  expect(page.text).not.toContain('Undo the last change');
});
