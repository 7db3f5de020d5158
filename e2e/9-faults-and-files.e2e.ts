import { expect, test } from '@playwright/test';
import { apiOf, signIn } from './people';

test('a file is taken in by the server, the same one again does nothing, and it is taken back', async ({
  page,
  baseURL,
}) => {
  await signIn(page, 'admin');
  await page.goto('/intake');
  const rows = Array.from({ length: 120 }, (_, i) => `Fair ${i},fair${i}@fair.example,NO,Brewery`);
  const file = {
    name: 'autumn-fair.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['Name,E-mail,Country,Industry', ...rows].join('\n')),
  };
  const send = () => page.getByLabel('CSV file of leads').setInputFiles(file);
  await send();
  const outcome = page.locator('.outcome');
  await expect(outcome).toContainText('120 rows accepted', { timeout: 20_000 });
  await send();
  await expect(outcome).toContainText('This file came before, so nothing was done');

  const { api } = await apiOf(baseURL ?? '', 'admin');
  const count = async () =>
    ((await (await api.get('/api/lead-count?status=any&find=fair')).json()) as { count: number }).count;
  expect(await count()).toBe(120);
  await page.getByRole('button', { name: 'Undo this import' }).click();
  await expect(outcome).toContainText('Taken back: 120 rows', { timeout: 20_000 });
  expect(await count()).toBe(0);
  await page.goto('/');
  await expect(page.getByText(/autumn-fair\.csv was taken in/)).toBeVisible();
});

test('an e-mail of another open lead is a conflict from which the two are joined, and taken apart again', async ({
  page,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const bring = async (values: object) =>
    ((await (await api.post('/api/leads', { headers, data: { values } })).json()) as { id: number }).id;
  const first = await bring({
    name: 'Tora Tvilling',
    email: 'tora@tvilling.example',
    employees: '40',
    industry: 'Waterworks',
  });
  const second = await bring({
    name: 'T. Tvilling',
    email: 'toar@tvilling.example',
    product: 'Buoy',
    industry: 'Waterworks',
  });

  await signIn(page, 'admin');
  await page.goto(`/leads/${second}`);
  await page.getByRole('button', { name: 'Edit E-mail' }).click();
  await page.getByRole('textbox', { name: 'E-mail' }).fill('tora@tvilling.example');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('alert')).toContainText(`Lead ${first} is open and has tora@tvilling.example`);
  await page.getByRole('button', { name: `Join it with lead ${first}…` }).click();
  await page.getByRole('button', { name: 'Show what would happen' }).click();
  const join = page.getByRole('group', { name: 'Join with another lead' });
  await expect(join).toContainText(`Tora Tvilling (lead ${first}) came first`);
  await join.getByLabel('E-mail: keep tora@tvilling.example').check();
  await join.getByLabel('Name: keep Tora Tvilling').check();
  await join.getByRole('button', { name: 'Join the two' }).click();
  await expect(page).toHaveURL(new RegExp(`/leads/${first}$`));
  await expect(page.getByText(`Lead ${second}, T. Tvilling, was joined into this one`)).toBeVisible();
  await expect(page.locator('h1')).toContainText('Tora Tvilling');
  await expect(page.locator('.values')).toContainText('Buoy');

  // The number of the one that went leads to the one that is left.
  await page.goto(`/leads/${second}`);
  await expect(page.locator('h1')).toContainText('Tora Tvilling');
  await page.getByRole('button', { name: 'Take it apart again' }).click();
  await expect(page.locator('h1')).toContainText('T. Tvilling');
  await page.goto(`/leads/${first}`);
  await expect(page.locator('.values')).not.toContainText('Buoy');
});

test('a lead made as a test joins nobody and is removed', async ({ page, baseURL }) => {
  await signIn(page, 'admin');
  await page.goto('/leads/new');
  await page.getByLabel('Name', { exact: true }).fill('Prøve Prøvesen');
  await page.getByLabel('Only a test').check();
  await page.getByRole('button', { name: 'Add the lead' }).click();
  await expect(page.getByText('A test lead: it joins nobody.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove the test lead' }).click();
  await expect(page).toHaveURL(/\/leads$/);
  const { api } = await apiOf(baseURL ?? '', 'admin');
  expect(await (await api.get('/api/lead-count?status=any&find=Prøvesen')).json()).toEqual({ count: 0 });
});

test('the page of background work says what fails, and that the check of the data found nothing', async ({
  page,
  baseURL,
}) => {
  const { api } = await apiOf(baseURL ?? '', 'admin');
  const { failures } = (await (await api.get('/api/background')).json()) as { failures: unknown };
  // Here the report of a run tells what failed.
  expect(failures).toEqual([]);
  await signIn(page, 'admin');
  await page.goto('/background');
  await expect(page.getByText('Nothing fails.')).toBeVisible();
  await expect(page.getByText('Nothing is parked.')).toBeVisible();
  await expect(page.getByText('It found nothing wrong.')).toBeVisible();
});
