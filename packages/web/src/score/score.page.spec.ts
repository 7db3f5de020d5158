import type { SaveDraft } from '@relvik/contracts';
import { withSets } from '../../../core/src/charter/changed-charter.fixture';
import { TestBed } from '@angular/core/testing';
import { CharterService } from '../charter/charter.service';
import { charterState, CHARTER, PageTest } from '../page.fixture';
import { PointsTable } from './points-table';
import { ScorePage } from './score.page';

const SPREAD = {
  fit: [
    { score: 60, count: 3 },
    { score: 0, count: 1 },
  ],
  engagement: [{ score: 20, count: 4 }],
};
const points = 'input[aria-label="Points for A trade we serve"]';

test('without a draft every signal is read with its points and its condition in words; nothing can be typed', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState(null));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
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
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  await page.type(points, '45');
  expect(page.find('tr.in-draft-row s').textContent).toBe('+60');
  await page.saved();
  const { body, answer } = page.sent('/api/drafts/2', 'PUT');
  const { version, charter } = body as SaveDraft;
  expect(version).toBe(4);
  expect(charter.scoreSets[0]!.signals.map((signal) => signal.points)).toEqual([45, 74, -10, 20]);
  await answer(charterState({ version: 5, charter }));
  expect(page.find('tr.in-draft-row s').textContent).toBe('+60');
  expect(page.text).toContain('1 changed');
});

test('what is no number, or the same as before, is not saved', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  await page.type(points, '');
  expect((page.find(points) as HTMLInputElement).value).toBe('60');
  await page.type(points, '60');
  await page.saved();
  page.http.expectNone('/api/drafts/2');
});

test('the distribution is drawn with the cuts over it; those that the draft moved are marked', async () => {
  const charter = withSets(CHARTER, (set) => ({
    ...set,
    grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [40, 75] } },
  }));
  const page = await PageTest.open(ScorePage, {}, charterState({ charter }));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  const [fit] = [...page.element.querySelectorAll('svg')];
  expect([...(fit?.querySelectorAll('.cut text') ?? [])].map((one) => one.textContent)).toEqual(['40', '75']);
  expect([...(fit?.querySelectorAll('.cut.moved text') ?? [])].map((one) => one.textContent)).toEqual(['75']);
  expect([...(fit?.querySelectorAll('.band') ?? [])].map((one) => one.textContent)).toEqual(['C', 'B', 'A']);
  const heights = [...(fit?.querySelectorAll('rect.bin') ?? [])].map((bar) => Number(bar.getAttribute('height')));
  expect(heights.filter((height) => height > 0)).toHaveLength(2);
  expect(Math.max(...heights)).toBeCloseTo(3 * (heights.find((height) => height > 0) ?? 0));
});

test('before the charter has come it says so; when it comes the signals are there', async () => {
  const page = await PageTest.open(ScorePage);
  expect(page.text).toContain('Loading …');
  TestBed.inject(CharterService).load();
  await page.answer('/api/charters', charterState({}));
  expect(page.text).not.toContain('Loading …');
  expect(page.text).toContain('A trade we serve');
});

test('a signal is copied, changes places, is taken out and comes back', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
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

/** A charter with a second set, which scores beside. */
const TWO = {
  ...CHARTER,
  scoreSets: [
    ...CHARTER.scoreSets,
    {
      ...CHARTER.scoreSets[0]!,
      key: 'extra',
      name: 'Extra product',
      when: { test: 'one-of' as const, subject: { kind: 'field' as const, field: 'industry' }, values: ['Brewery'] },
      groups: [{ key: 'mail', name: 'Mail', axis: 'engagement' as const, cap: 9 }],
      signals: CHARTER.scoreSets[0]!.signals.map((one) => ({
        ...one,
        key: `extra-${one.key}`,
        group: one.axis === 'engagement' ? 'mail' : null,
      })),
    },
  ],
};
const setNames = (page: PageTest<ScorePage>) =>
  [...page.element.querySelectorAll('.set .name')].map((one) => one.textContent.trim());

test('of several sets one is looked at; each says whom it admits, and what it comes to is asked for anew', async () => {
  const page = await PageTest.open(
    ScorePage,
    {},
    { ...charterState(null), inForce: { id: 1, number: 1, enactedAt: 0, charter: TWO } },
  );
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  expect(setNames(page)).toEqual(['Leads', 'Extra product']);
  expect(page.text).toContain('every lead');
  expect(page.text).toContain('Industry is Brewery');
  await page.click('Extra product');
  await page.answer('/api/score-sets/extra/distribution', { fit: [{ score: 5, count: 9 }], engagement: [] });
  expect(page.find('.set.chosen').textContent).toContain('Extra product');
  expect(page.element.querySelector('.set input')).toBeNull();
});

test('a set is copied with keys of its own, moved by keyboard, renamed, turned off, taken out and brought back', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({ charter: { ...TWO, name: 'Next' } }));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  const charter = () => TestBed.inject(CharterService).draft()!.charter;
  await page.click('Edit Extra product');
  await page.click('Copy it');
  expect(setNames(page)).toEqual(['Leads', 'Extra product', 'Extra product, copy']);
  const [, extra, copy] = charter().scoreSets;
  const keys = charter().scoreSets.flatMap((set) => [...set.signals, ...set.groups].map(({ key }) => key));
  expect(new Set(keys).size).toBe(keys.length);
  expect(copy!.signals.map((one) => [one.name, one.points])).toEqual(
    extra!.signals.map((one) => [one.name, one.points]),
  );
  expect(copy!.signals.filter((one) => one.group !== null).map((one) => one.group)).toEqual([copy!.groups[0]!.key]);

  await page.click('Move Extra product, copy up');
  expect(setNames(page)).toEqual(['Leads', 'Extra product, copy', 'Extra product']);
  await page.type('input[aria-label="Name of the score set"]', 'Second product');
  await page.type('input[aria-label="Fit, most"]', '250.5');
  await page.type('input[aria-label="Fit, decimals"]', '1');
  expect(charter().scoreSets[1]).toMatchObject({ name: 'Second product', fit: { least: 0, most: 250.5, decimals: 1 } });
  await page.type('input[aria-label="Fit, least"]', '300');
  expect(page.text).toContain('its least must be below its most');
  page.find('input[aria-label="Second product is in use"]').click();
  await page.settle();
  expect(charter().scoreSets.map(({ on }) => on)).toEqual([true, false, true]);
  await page.click('Take it out');
  expect(setNames(page)).toEqual(['Leads', 'Extra product']);
  await page.click('Undo the last change');
  expect(charter().scoreSets).toEqual(TWO.scoreSets);
});

test('a new set admits nobody yet; the only one can’t be taken out', async () => {
  const page = await PageTest.open(ScorePage, {}, charterState({}));
  await page.answer('/api/score-sets/leads/distribution', SPREAD);
  await page.click('Edit Leads');
  expect(page.button('Take it out').disabled).toBe(true);
  await page.click('+ score set');
  expect(page.text).toContain('no lead yet');
  const [, fresh] = TestBed.inject(CharterService).draft()!.charter.scoreSets;
  expect(fresh).toMatchObject({ of: 'lead', on: true, when: { test: 'any', of: [] }, signals: [], groups: [] });
  await page.click('+ for companies');
  expect(page.text).toContain('no company yet');
  expect(TestBed.inject(CharterService).draft()!.charter.scoreSets[2]).toMatchObject({ of: 'company', signals: [] });
});

test('points for the values of a field are typed as one table; equal points stand in one signal', async () => {
  const page = await PageTest.open(PointsTable, {}, charterState({}));
  page.component.instance['field'].set('industry');
  await page.settle();
  const before = page.component.instance['rows']();
  expect(before.map(({ label }) => label)).toEqual(expect.arrayContaining(['Brewery', 'Fish farm']));
  const inputOf = (value: string): HTMLInputElement =>
    page.element.querySelector<HTMLInputElement>(`[id="points-${value}"]`)!;
  for (const value of ['Golf course', 'Fish farm']) {
    inputOf(value).value = '17';
    inputOf(value).dispatchEvent(new Event('change'));
    await page.settle();
  }
  await page.saved();
  const { signals } = (page.sent('/api/drafts/2', 'PUT').body as SaveDraft).charter.scoreSets[0]!;
  const made = signals.filter(({ points }) => points === 17);
  expect(made).toMatchObject([
    { name: 'Industry: Golf course', axis: 'fit', when: { values: ['Golf course', 'Fish farm'] } },
  ]);
});
