import { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { SessionService } from '../session/session.service';
import { PageTest, PEOPLE } from '../page.fixture';
import { PeoplePage } from './people.page';

async function open(role: 'admin' | 'manager'): Promise<PageTest<PeoplePage>> {
  const before = jest.spyOn(SessionService.prototype, 'is').mockImplementation((asked) => asked === role);
  const page = await PageTest.open(PeoplePage);
  before.mockRestore();
  await page.answer('/api/people', PEOPLE);
  return page;
}

test('open leads stand against limits, with the reason of who may take none; only an admin may change them', async () => {
  const page = await open('manager');
  expect(page.text).toContain('Ada Lindqvist Team north yes any hour 10 10');
  expect(page.text).toContain('has no seat 0 –');
  expect(page.find('.load').classList).toContain('full');
  expect(() => page.button('Edit Ada Lindqvist')).toThrow();
});

test('an admin gives someone hours, days off and skills; hours that can’t be read are said, and nothing is sent', async () => {
  const before = jest.spyOn(SessionService.prototype, 'is').mockReturnValue(true);
  const page = await PageTest.open(PeoplePage);
  before.mockRestore();
  const skills = [{ key: 'trades', name: 'Trades', words: ['Brewery', 'Mill'] }];
  await page.answer('/api/people', { ...PEOPLE, skills });
  await page.click('Edit Ada Lindqvist');
  await page.answer('/api/holiday-places', [{ key: 'NO', name: 'Norway' }]);
  const [hours] = [...page.element.querySelectorAll<HTMLInputElement>('rv-hours-form input[type=checkbox]')];
  hours!.click();
  await page.settle();
  await page.type('[aria-label="Hours on Tue"]', 'from nine to five');
  expect(page.text).toContain('Hours are written 09:00-12:00, 13:00-17:00');
  await page.type('[aria-label="Hours on Tue"]', '8-12, 13-16:30');
  expect(page.text).not.toContain('Hours are written');
  await page.type('[aria-label="Hours on Wed"]', '');
  await page.click('+ days off');
  await page.type('[aria-label="Off from"]', '2026-12-21');
  page.find('form.at-once').dispatchEvent(new Event('submit'));
  await page.settle();
  const { body } = page.sent('/api/people/ada', 'PATCH');
  expect(body).toMatchObject({
    ...{ mayTakeLeads: true, limit: 10, weight: 1, holidaysOf: null, skills: [] },
    daysOff: [{ from: '2026-12-21', to: '2026-12-21', hours: null }],
  });
  const weekly = (body as { hours: { weekly: { day: number; from: string; to: string }[] } }).hours.weekly;
  expect(weekly.filter(({ day }) => day <= 4).map(({ day, from, to }) => `${day} ${from}-${to}`)).toEqual([
    '1 09:00-17:00',
    '2 08:00-12:00',
    '2 13:00-16:30',
    '4 09:00-17:00',
  ]);
});

test('an admin pauses a team and puts someone first in its turns', async () => {
  const page = await open('admin');
  await page.click('Edit Team north');
  page.find('rv-team-editor input[type=checkbox]').click();
  await page.click('Move Cai Morgan up');
  page.find('rv-team-editor form').dispatchEvent(new Event('submit'));
  await page.settle();
  const sent = page.sent('/api/teams/north', 'PATCH');
  expect(sent.body).toEqual({
    ...{ name: 'Team north', paused: true, parent: null, hours: null },
    ...{ members: ['cai', 'ada'], leaders: [] },
  });
  await sent.answer({ ...PEOPLE, teams: PEOPLE.teams.map((team) => ({ ...team, paused: true })) });
  expect(page.text).toContain('Team north paused');
});

test('an admin changes a limit; an empty one is none; a refusal is said and nothing typed is lost', async () => {
  const page = await open('admin');
  await page.click('Edit Ada Lindqvist');
  await page.answer('/api/holiday-places', []);
  await page.type('input[type=number]', '-3');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  const first = page.sent('/api/people/ada', 'PATCH');
  expect(first.body).toMatchObject({ mayTakeLeads: true, limit: -3, whyNot: null });
  await first.answer(
    {
      type: 'about:blank',
      status: 422,
      title: 'Something in it is not right',
      errors: [{ path: '/limit', message: 'must be 0 or more' }],
    },
    422,
  );
  expect(page.text).toContain('limit must be 0 or more');
  expect((page.find('input[type=number]') as HTMLInputElement).value).toBe('-3');

  await page.type('input[type=number]', '');
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
  const second = page.sent('/api/people/ada', 'PATCH');
  expect(second.body).toMatchObject({ mayTakeLeads: true, limit: null, whyNot: null });
  await second.answer({ ...PEOPLE, people: PEOPLE.people.map((person) => ({ ...person, limit: null })) });
  expect(page.text).toContain('Ada Lindqvist Team north yes any hour 10 –');
  TestBed.inject(HttpTestingController).verify();
});

test('someone new is made; who goes is asked about: leads by rule or to someone, the rest to an heir', async () => {
  const page = await open('admin');
  await page.click('+ person');
  await page.type('[aria-label="Name of the new person"]', 'Nova Brekke');
  page.find('rv-new-person form').dispatchEvent(new Event('submit'));
  await page.settle();
  expect(page.text).toContain('email');
  await page.type('[aria-label="E-mail"]', 'nova@relvik.example');
  await page.choose('Team', 'north');
  page.find('rv-new-person form').dispatchEvent(new Event('submit'));
  await page.settle();
  const made = page.sent('/api/people', 'POST');
  expect(made.body).toEqual({ name: 'Nova Brekke', email: 'nova@relvik.example', role: 'rep', team: 'north' });
  await made.answer(PEOPLE);

  await page.click('Edit Ada Lindqvist');
  await page.answer('/api/holiday-places', []);
  await page.click('Retire…');
  expect(page.text).toContain('10 open leads go to');
  await page.choose('Who gets the leads', 'team:north');
  await page.click('Retire');
  const retired = page.sent('/api/people/ada/retire', 'POST');
  expect(retired.body).toEqual({ leads: { to: 'team', key: 'north' }, heir: null });
  const given = { done: [1], places: [], refused: [{ id: 2, why: 'Nobody there is free' }] };
  await retired.answer({ given, people: PEOPLE });
  expect(page.text).toContain('1 lead stays, so nobody was retired: Nobody there is free');
});
