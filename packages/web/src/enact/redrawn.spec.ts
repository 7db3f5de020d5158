import type { Redraw } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { Redrawn } from './redrawn';

const LEAD = { id: 7, name: 'Kari', owner: 'ada', from: 'nordics', to: 'dach', untouched: true };
const REDRAW: Redraw = {
  charter: 3,
  leads: 41,
  untouched: 12,
  some: [LEAD, { ...LEAD, id: 8, to: null }],
  chosen: null,
};
const chosen = (choice: 'keep' | 'untouched', handedOn: number): Redraw => ({
  ...REDRAW,
  chosen: { choice, handedOn, by: 'Runa', at: Date.now() },
});

async function open(redraw: Redraw): Promise<PageTest<Redrawn>> {
  const page = await PageTest.open(Redrawn);
  await page.answer('/api/redraw', redraw);
  return page;
}

test('leads that lie elsewhere are named with their owners before anything is done; what is chosen can be undone', async () => {
  const page = await open(REDRAW);
  expect(page.text).toContain('since charter 3 came into force 41 open leads with an owner lie in another territory');
  expect(page.text).toContain('Kari Ada Lindqvist Nordics → D-A-CH nothing yet');
  expect(page.text).toContain('Nordics → open ground');
  expect(page.text).toContain('and 39 more');
  await page.click('Hand on the 12 whose owner has not called, mailed or met them yet');
  const sent = page.sent('/api/redraw', 'POST');
  expect(sent.body).toEqual({ charter: 3, choice: 'untouched' });
  await sent.answer(chosen('untouched', 11));
  expect(page.text).toContain('Since charter 3 came into force: 11 leads handed on. Runa');
  await page.click('Undo');
  const undo = page.sent('/api/redraw/undo', 'POST');
  expect(undo.body).toEqual({ charter: 3 });
  await undo.answer(REDRAW);
  expect(page.text).toContain('Hand on all 41');
});

test('that they are kept is told', async () => {
  const kept = await open(chosen('keep', 0));
  expect(kept.text).toContain('stay with their owners');
});

test('nothing is asked where no lead lies elsewhere', async () => {
  expect((await open({ ...REDRAW, leads: 0, untouched: 0, some: [] })).text).toBe('');
});
