import type { PublicForm, SentForm } from '@relvik/contracts';
import { PageTest } from '../page.fixture';
import { FormPage } from './form.page';

const FORM: PublicForm = {
  slug: 'ask',
  title: 'Ask us',
  intro: 'Tell us',
  thanks: 'Thank you.',
  token: 'once',
  fields: [
    { key: 'email', name: 'E-mail', type: 'email', options: [], required: true },
    { key: 'employees', name: 'Employees', type: 'number', options: [], required: false },
  ],
};

async function open(): Promise<PageTest<FormPage>> {
  const page = await PageTest.open(FormPage, { slug: 'ask' });
  await page.answer('/api/forms/ask', FORM);
  return page;
}

async function send(page: PageTest<FormPage>): Promise<void> {
  page.find('form').dispatchEvent(new Event('submit'));
  await page.settle();
}

test('a visitor sends what was filled in, once, with the page’s token, and is thanked', async () => {
  const page = await open();
  await page.type('#f-email', 'a@b.example');
  await send(page);
  await send(page);
  const { body, answer } = page.sent('/api/forms/ask', 'POST');
  expect(body).toEqual<SentForm>({ token: 'once', values: { email: 'a@b.example' } });
  await answer({}, 201);
  expect(page.text).toBe('Ask us Thank you.');
});

test('what can’t be read is asked for again at its field, and can then be sent as it is', async () => {
  const page = await open();
  await page.type('#f-email', 'a@b.example');
  await page.type('#f-employees', 'some');
  await send(page);
  await page.sent('/api/forms/ask', 'POST').answer(
    {
      type: 'about:blank',
      status: 422,
      title: 'Please look at this again',
      errors: [{ path: '/values/employees', message: 'is not a number' }],
    },
    422,
  );
  expect(page.text).toContain('Employees is not a number');
  await page.click('Send it as it is');
  expect(page.sent('/api/forms/ask', 'POST').body).toMatchObject({ anyway: true, values: { employees: 'some' } });
});

test('what is missing can’t be sent as it is', async () => {
  const page = await open();
  await send(page);
  await page.sent('/api/forms/ask', 'POST').answer(
    {
      type: 'about:blank',
      status: 422,
      title: 'Please look at this again',
      errors: [{ path: '/values/email', message: 'please fill this in' }],
    },
    422,
  );
  expect(() => page.button('Send it as it is')).toThrow();
});

test('the hidden field goes along when something filled it', async () => {
  const page = await open();
  (page.find('#website') as HTMLInputElement).value = 'spam';
  await send(page);
  expect(page.sent('/api/forms/ask', 'POST').body).toMatchObject({ website: 'spam' });
});

test('a form that is not there says so', async () => {
  const page = await PageTest.open(FormPage, { slug: 'gone' });
  await page.answer('/api/forms/gone', { type: 'about:blank', status: 404, title: 'There is nothing here' }, 404);
  expect(page.text).toContain('There is nothing here');
});
