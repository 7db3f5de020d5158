import type { Bay } from '@relvik/contracts';
import { TestBed } from '@angular/core/testing';
import { PageTest, PEOPLE } from '../page.fixture';
import { SessionService } from '../session/session.service';
import { BayPage } from './bay.page';

const lead = (id: number) => ({
  id,
  name: `Lead ${id}`,
  company: 'Mill',
  rank: 80 - id,
  since: Date.now() - 7_200_000,
});
const BAY = {
  tellAfter: 24,
  groups: [
    {
      reason: { why: 'unjudged', fields: ['deal_value'] },
      ...{ leads: 1, since: Date.now() - 86_400_000, oldest: [lead(9)], skipped: [] },
    },
    {
      reason: { why: 'nobody-free', route: 'north', rep: null, team: 'north' },
      ...{ leads: 7, since: Date.now() - 7_200_000, oldest: [1, 2, 3, 4, 5, 6, 7].map(lead) },
      skipped: [
        { rep: 'ada', exclusion: { why: 'at-limit', open: 2, limit: 2 } },
        { rep: 'bo', exclusion: { why: 'outside-hours', next: Date.UTC(2026, 11, 7, 8) } },
        { rep: 'cai', exclusion: { why: 'may-not-take-leads' } },
      ],
    },
  ],
} as unknown as Bay;

async function open(bay: Bay): Promise<PageTest<BayPage>> {
  const before = jest.spyOn(SessionService.prototype, 'is').mockImplementation((asked) => asked === 'admin');
  const page = await PageTest.open(BayPage);
  before.mockRestore();
  TestBed.inject(SessionService);
  await page.answer('/api/bay', bay);
  return page;
}

test('what waits for people stands first, with who could take the oldest and when; the rest is put right elsewhere', async () => {
  const page = await open(BAY);
  const heads = [...page.element.querySelectorAll('h2')].map((one) => one.textContent?.trim() ?? '');
  expect(heads[0]).toContain('nobody in Team north is free');
  expect(page.text).toContain('8 leads wait');
  expect(page.text).toContain('First: Bo Rask, Mon 7 Dec');
  expect(page.text).toContain('Ada Lindqvist once one of 2 open leads is closed, or the limit of 2 is raised');
  expect(page.text).not.toContain('Cai Morgan');
  expect(page.text).toContain('Can’t be judged: Deal value 1 lead');
  expect(page.text).toContain('Correct the values');
  expect(page.text).not.toContain('Lead 7');
  await page.click('Show 7');
  expect(page.text).toContain('Lead 7');
});

test('leads are given away from the bay: what it would do is shown first, who stays and why', async () => {
  const page = await open(BAY);
  page.find('[inputId="choose-1"] input, #choose-1').click();
  page.find('[inputId="choose-2"] input, #choose-2').click();
  await page.settle();
  await page.answer('/api/people', PEOPLE);
  await page.choose('Give to', 'team:north');
  const preview = page.sent('/api/leads/give-preview', 'POST');
  expect(preview.body).toEqual({ ids: [1, 2], to: 'team', key: 'north', method: 'round-robin' });
  const answer = {
    done: [1],
    places: [{ place: { kind: 'owner', rep: 'bo' }, leads: 1 }],
    refused: [{ id: 2, why: 'Nobody there is free' }],
  };
  await preview.answer(answer);
  expect(page.text).toContain('would go to: Bo Rask 1, 1 stay');
  expect(page.text).toContain('1 stays: Nobody there is free');
  page.find('form.give').dispatchEvent(new Event('submit'));
  await page.settle();
  await page.sent('/api/leads/give', 'POST').answer(answer);
  expect(page.text).toContain('Given: Bo Rask 1');
  page.http.expectOne('/api/bay').flush({ ...BAY, groups: [] });
  await page.settle();
  expect(page.text).toContain('nothing waits');
});

test('operations is told after the hours that the admin sets; none: it is not', async () => {
  const page = await open({ ...BAY, groups: [] });
  await page.type('[aria-label="Hours after which operations is told"]', '');
  expect(page.sent('/api/bay/alarm', 'PUT').body).toEqual({ hours: null });
});
