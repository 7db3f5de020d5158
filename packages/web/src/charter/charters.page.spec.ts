import type { CharterRow, CharterState } from '@relvik/contracts';
import { withPoints } from '../../../core/src/charter/changed-charter.fixture';
import { charterState, CHARTER, PageTest, wordsOf } from '../page.fixture';
import { ChartersPage } from './charters.page';

const row = (id: number, name: string, rest: Partial<CharterRow> = {}): CharterRow => ({
  id,
  name,
  note: null,
  author: 'Runa',
  changedAt: Date.now() - 3_600_000,
  base: 1,
  number: null,
  enactedAt: null,
  reason: null,
  openFor: [],
  ...rest,
});

const changed = {
  ...withPoints(CHARTER, 'trade', 20),
  name: 'Next',
};

const STATE: CharterState = {
  ...charterState({ charter: changed }),
  drafts: [row(2, 'Next', { note: 'for spring', openFor: ['admin'] }), row(3, 'Old idea', { base: 0 })],
  past: [row(5, 'First', { number: 0, enactedAt: Date.parse('2026-01-02T10:00:00Z'), reason: 'to begin with' })],
};

async function open(state: CharterState = STATE): Promise<PageTest<ChartersPage>> {
  const page = await PageTest.open(ChartersPage, {}, state);
  await page.answer('/api/journal', [
    { id: 4, at: 0, by: 'Runa', act: 'begun', charter: 2, number: null, name: 'Next', why: null },
  ]);
  return page;
}

/** Both charters that are compared, as the page asks for them. */
async function compare(page: PageTest<ChartersPage>): Promise<void> {
  await page.answer('/api/charters/1', CHARTER);
  await page.answer('/api/charters/2', changed);
}

const drafts = (page: PageTest<ChartersPage>) =>
  [...page.element.querySelectorAll('.charter-row')].map(wordsOf).slice(1, 3);

test('the one in force, the drafts with what they are for and whether they are behind, past ones and the journal', async () => {
  const page = await open();
  expect(page.text).toContain('1 · Small');
  expect(drafts(page)[0]).toMatch(/^Next open Runa, 1 hour ago ; for spring/);
  expect(drafts(page)[1]).toContain('behind: made on charter 0');
  expect(page.text).toContain('0 · First');
  expect(page.text).toContain('to begin with');
  expect(page.text).toMatch(/Began Next|Begun Next/);
});

test('the draft that is open is compared with what is in force; the patch is asked for when it is looked at', async () => {
  const page = await open();
  await compare(page);
  expect(wordsOf(page.find('.changes'))).toBe('Points for “A trade we serve” +60 → +20');
  page.http.expectNone('/api/charters/1/patch/2');
  const machines = page.find('details') as HTMLDetailsElement;
  machines.open = true;
  machines.dispatchEvent(new Event('toggle'));
  await page.answer('/api/charters/1/patch/2', [{ op: 'replace', path: '/scoreSets/0/signals/0/points', value: 20 }]);
  expect(page.find('pre').textContent).toContain('/scoreSets/0/signals/0/points');
});

test('a copy is named first; refused, the name stays to be tried again', async () => {
  const page = await open();
  await page.click('Copy Old idea');
  const field = page.find('input[aria-label="Name of the draft"]') as HTMLInputElement;
  expect(field.value).toBe('Old idea, copy');
  await page.type('input[aria-label="Name of the draft"]', 'New idea');
  page.find('form.in-row').dispatchEvent(new Event('submit'));
  await page.settle();
  const refused = page.sent('/api/drafts', 'POST');
  expect(refused.body).toEqual({ name: 'New idea', from: 3 });
  await refused.answer({ title: 'The name is taken', status: 409 }, 409);
  expect(page.text).toContain('The name is taken');
  expect((page.find('input[aria-label="Name of the draft"]') as HTMLInputElement).value).toBe('New idea');
  page.find('form.in-row').dispatchEvent(new Event('submit'));
  await page.settle();
  await page.sent('/api/drafts', 'POST').answer(STATE);
  expect(page.element.querySelector('input[aria-label="Name of the draft"]')).toBeNull();
});

test('a past charter is restored as a new draft, a note is kept, another draft is opened', async () => {
  const page = await open();
  await page.click('Restore charter 0');
  page.find('form.in-row').dispatchEvent(new Event('submit'));
  await page.settle();
  const restored = page.sent('/api/drafts', 'POST');
  expect(restored.body).toEqual({ name: 'First, restored', from: 5 });
  await restored.answer(STATE);
  await page.click('Note for Next');
  await page.type('input[name="note"]', '  for autumn ');
  page.find('form.in-row').dispatchEvent(new Event('submit'));
  await page.settle();
  const noted = page.sent('/api/drafts/2', 'PATCH');
  expect(noted.body).toEqual({ note: 'for autumn' });
  await noted.answer(STATE);
  await page.click('Open Old idea');
  await page.sent('/api/drafts/3/open', 'POST').answer(STATE);
  await page.click('Close');
  await page.sent('/api/drafts/close', 'POST').answer({ ...STATE, draft: null });
  expect(drafts(page)[0]).not.toContain('open Runa');
});

test('a draft is discarded only when that is said twice', async () => {
  const page = await open();
  await page.click('Discard Old idea');
  await page.click('Keep it');
  page.http.expectNone({ url: '/api/drafts/3', method: 'DELETE' });
  await page.click('Discard Old idea');
  await page.click('Discard Old idea for good');
  await page.sent('/api/drafts/3', 'DELETE').answer({ ...STATE, drafts: STATE.drafts.slice(0, 1) });
  expect(page.text).not.toContain('Old idea');
});
