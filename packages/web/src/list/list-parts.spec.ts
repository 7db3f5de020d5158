import { TestBed } from '@angular/core/testing';
import type { SavedView } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { SessionService } from '../session/session.service';
import { ListCondition } from './list-condition';
import { NoteActivity } from '../record/note-activity';
import { SavedViews } from './saved-views';
import { ScoreCurve } from '../record/score-curve';

const VIEWS: SavedView[] = [
  {
    id: 4,
    name: 'Hot',
    shared: false,
    kind: 'lead',
    query: { least: '70', order: 'fit' },
    own: true,
    by: 'Ada Lindqvist',
  },
  { id: 5, name: 'Queued', shared: true, kind: 'lead', query: { place: 'queue' }, own: false, by: 'Runa Admin' },
];

async function views(query: Record<string, string>) {
  const page = await PageTest.open(SavedViews, { query });
  TestBed.inject(SessionService).signIn('x', 'y').subscribe();
  page.http.expectOne('/api/session').flush({ name: 'X', key: 'ada', role: 'rep' });
  await page.answer('/api/views', VIEWS);
  return page;
}

test('the view whose filters are on is shown, whatever their order; others’ can’t be taken away', async () => {
  const page = await views({ order: 'fit', least: '70' });
  expect(page.text).toContain('Hot');
  await page.click('Take away the view Hot');
  await page.sent('/api/views/4', 'DELETE').answer([VIEWS[1]]);
  page.component.setInput('query', { place: 'queue' });
  await page.settle();
  expect(page.text).toContain('Queued · by Runa Admin');
  expect(page.text).not.toContain('Take the view away');
});

test('filters are saved under a name; one’s own view of that name is replaced', async () => {
  const page = await views({ stage: 'new' });
  await page.click('Save as a view');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  expect(page.text).toContain('Give the view a name');
  await page.type('input[name="view-name"]', 'Hot');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  expect(page.sent('/api/views/4', 'PUT').body).toEqual({
    name: 'Hot',
    shared: false,
    kind: 'lead',
    query: { stage: 'new' },
  });
});

test('a list’s condition stands there in words, is opened in place and taken away; one that is cut off is said', async () => {
  const when = JSON.stringify({ test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] });
  const page = await PageTest.open(ListCondition, { when });
  const said: (string | null)[] = [];
  page.component.instance.changed.subscribe((text) => said.push(text));
  expect(page.text).toContain('only where Industry is Brewery');
  await page.click('Change');
  await page.click('+ test');
  expect(JSON.parse(said[0] ?? '')).toMatchObject({
    test: 'all',
    of: [{ subject: { field: 'industry' } }, { subject: { field: 'industry' } }],
  });
  await page.click('Take the condition away');
  expect(said[1]).toBeNull();
  page.component.setInput('when', when.slice(0, 20));
  await page.settle();
  expect(page.text).toContain('The condition in the address can’t be read: it is cut off');
  page.component.setInput('when', '{"test":"like","field":"x"}');
  await page.settle();
  expect(page.text).toContain('/test must be one of');
});

test('what happened is noted with its kind, its moment and what it was about', async () => {
  const page = await PageTest.open(NoteActivity, { busy: false });
  const noted: unknown[] = [];
  page.component.instance.noted.subscribe((one) => noted.push(one));
  await page.click('+ note what happened');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  expect(page.text).toContain('Say what kind of activity');
  page.component.instance['kind'] = 'call_taken';
  await page.type('input[name="at"]', '2026-03-02T09:30');
  await page.type('input[name="about"]', ' Ten buoys ');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  expect(noted).toEqual([
    {
      kind: 'call_taken',
      at: new Date('2026-03-02T09:30').toISOString(),
      properties: { about: 'Ten buoys' },
    },
  ]);
});

test('the curve says where engagement goes if nothing happens; solid up to now, dashed from there', async () => {
  const day = 86_400_000;
  const points = [0, 1, 2, 3].map((n) => ({ at: n * day, fit: 60, engagement: 40 - 10 * n }));
  const page = await PageTest.open(ScoreCurve, { curve: { now: day, points } });
  expect(page.text).toContain('Engagement is 30; if nothing happens it is 10 in 2 days.');
  expect(page.element.querySelectorAll('path.line-engagement')).toHaveLength(2);
  expect(page.element.querySelectorAll('path.line-engagement.ahead')).toHaveLength(1);
  page.component.setInput('curve', { now: day, points: points.map((point) => ({ ...point, engagement: null })) });
  await page.settle();
  expect(page.text).toContain('Engagement can’t be judged.');
});
