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

test('an admin changes a limit; an empty one is none; a refusal is said and nothing typed is lost', async () => {
  const page = await open('admin');
  await page.click('Edit Ada Lindqvist');
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
