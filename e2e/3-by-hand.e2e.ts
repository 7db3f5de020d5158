import { expect, test } from '@playwright/test';
import { apiOf, choose, letWait, pageOf, signIn } from './people';

test('an edit decides the lead again: what could not be judged leaves the bay', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/leads/new');
  await page.getByLabel('Name', { exact: true }).fill('Signe Rettelse');
  await page.getByLabel('E-mail').fill('signe@rettelse.example');
  await page.getByLabel('Employees').fill('about 50');
  await page.getByRole('button', { name: 'Add the lead' }).click();
  await expect(page.getByText('Bay: can’t be judged').first()).toBeVisible();
  await expect(page.getByText('no score: Employees can’t be judged')).toBeVisible();

  await page.getByRole('button', { name: 'Edit Employees' }).click();
  await page.getByRole('textbox', { name: 'Employees' }).fill('50');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Bay: can’t be judged')).toHaveCount(0);
  await expect(page.getByText(/Employees in \[40, 400\)/).first()).toBeVisible();
  await expect(page.locator('.history')).toContainText('Employees about 50 → 50');
});

test('a lead can be scored and graded only, and goes on with the next edit that decides all', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/leads/new');
  await page.getByLabel('Name', { exact: true }).fill('Ylva Vente');
  await page.getByLabel('E-mail').fill('ylva@vente.example');
  await choose(page, 'Industry', 'Fish farm');
  await choose(page, 'What is done with the lead', 'score and grade only');
  await page.getByRole('button', { name: 'Add the lead' }).click();
  await expect(page.getByText('It was scored and graded only: gates and routes were not asked.')).toBeVisible();
  await expect(page.getByText('Not routed on this occasion.')).toBeVisible();

  await page.getByRole('button', { name: 'Edit Employees' }).click();
  await page.getByRole('textbox', { name: 'Employees' }).fill('45');
  await choose(page, 'What is done with the lead', 'keep as it is');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('.history')).toContainText('Employees 45');
  await expect(page.getByText('It was scored and graded only: gates and routes were not asked.')).toBeVisible();
});

test('an admin assigns, the owner closes with a reason, and the load is free again', async ({
  page,
  browser,
  baseURL,
}) => {
  const admin = await apiOf(baseURL ?? '', 'admin');
  const openOf = async (key: string) =>
    ((await (await admin.api.get('/api/people')).json()) as { people: { key: string; open: number }[] }).people.find(
      (p) => p.key === key,
    )?.open ?? -1;
  const before = await openOf('rep');
  const made = (await (
    await admin.api.post('/api/leads', {
      headers: admin.headers,
      data: { values: { name: 'Odd Hånd', email: 'odd@hand.example', industry: 'Waterworks' } },
    })
  ).json()) as { id: number };

  await signIn(page, 'admin');
  await page.goto(`/leads/${made.id}`);
  await choose(page, 'Give to', 'Aksel Dahlstrøm');
  await expect(page.locator('rv-give-leads')).toContainText('would go to: Aksel Dahlstrøm');
  await page.getByRole('button', { name: 'Give', exact: true }).click();
  await expect(page.locator('.facts')).toContainText('Aksel Dahlstrøm');
  expect(await openOf('rep')).toBe(before + 1);

  const rep = await pageOf(browser, 'rep');
  await expect(rep.getByText(/Odd Hånd.*was given to you/)).toBeVisible();
  await rep.goto(`/leads/${made.id}`);
  await rep.getByRole('button', { name: 'Close…' }).click();
  await rep.getByRole('button', { name: 'Close the lead' }).click();
  await expect(rep.getByRole('alert')).toContainText('Say why, in a few words');
  await choose(rep, 'How it ended', 'Lost');
  await rep.getByLabel('Reason').fill('Bought a rowing boat instead');
  await rep.getByRole('button', { name: 'Close the lead' }).click();
  await expect(rep.locator('.facts')).toContainText('closed as lost');
  await expect(rep.locator('.history')).toContainText('lost: Bought a rowing boat instead');
  expect(await openOf('rep')).toBe(before);
});

test('of two who pick up the same lead at the same moment exactly one gets it', async ({ page, browser, baseURL }) => {
  const admin = await apiOf(baseURL ?? '', 'admin');
  const values = {
    name: 'Kø Prosjekt',
    email: 'ko@prosjekt.example',
    country: 'NO',
    industry: 'Fish farm',
    employees: '700',
    deal_value: '400000 EUR',
    title: 'Head of operations',
    source: 'Referral',
  };
  const { id } = (await (await admin.api.post('/api/leads', { headers: admin.headers, data: { values } })).json()) as {
    id: number;
  };
  // Quiet leads are nurtured: a second inquiry by the form makes it stirring, and the project route takes it to its queue.
  const form = (await (await admin.api.get('/api/forms/sensing')).json()) as { token: string };
  await admin.api.post('/api/forms/sensing', {
    data: { token: form.token, values: { name: 'Kø Prosjekt', email: 'KO@prosjekt.example', country: 'NO' } },
  });

  await signIn(page, 'rep');
  await page.goto(`/leads/${id}`);
  const other = await pageOf(browser, 'delia');
  await other.goto(`/leads/${id}`);
  await expect(page.getByRole('button', { name: 'Pick up' })).toBeVisible();
  await expect(other.getByRole('button', { name: 'Pick up' })).toBeVisible();
  const answers = [page, other].map((one) => one.waitForResponse((response) => response.url().endsWith('/pick-up')));
  await Promise.all([page, other].map((one) => one.getByRole('button', { name: 'Pick up' }).click()));
  const statuses = (await Promise.all(answers)).map((answer) => answer.status()).sort();
  expect(statuses[0]).toBe(200);
  expect([404, 409]).toContain(statuses[1]);
});

test('whoever waits for someone free leaves the bay when a limit is raised', async ({ page, baseURL }) => {
  await letWait(baseURL ?? '', 'south', 'Spain');
  const { api } = await apiOf(baseURL ?? '', 'admin');
  const waiting = async () =>
    ((await (await api.get('/api/home')).json()) as { attention: { what: string; count: number }[] }).attention.find(
      (one) => one.what === 'bay-nobody-free',
    )?.count ?? 0;
  const before = await waiting();
  expect(before).toBeGreaterThan(0);
  await signIn(page, 'admin');
  await page
    .locator('.course')
    .getByRole('link', { name: /^People/ })
    .click();
  await page.getByRole('button', { name: 'Edit Inês Ribamar' }).click();
  await page.getByLabel(/^Limit/).fill('-1');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('alert')).toContainText('must be 0 or more');
  await page.getByLabel(/^Limit/).fill('60');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.locator('.people tr', { hasText: 'Inês Ribamar' })).toContainText('60');
  expect(await waiting()).toBe(0);
});
