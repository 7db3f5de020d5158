import { expect, test } from '@playwright/test';
import { apiOf, choose, pageOf, signIn } from './people';

test('a rep makes a deal of a lead and wins it: the lead is won with it; opened again, both are open', async ({
  browser,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const email = `deals-${Date.now()}@deals.example`;
  const values = {
    ...{ email, name: 'Odd Fjelltun', company: 'Fjelltun Vann', country: 'Norway', deal_value: '42000 EUR' },
    ...{ industry: 'Waterworks', employees: '620', points: '40', title: 'Plant operations', product: 'Buoy' },
  };
  const { id } = (await (await api.post('/api/leads', { headers, data: { values, owner: 'rep' } })).json()) as {
    id: number;
  };
  const rep = await pageOf(browser, 'rep');
  await rep.goto(`/leads/${id}`);
  await rep.getByRole('link', { name: 'Make a deal' }).click();
  await rep.getByRole('button', { name: 'Add the deal' }).click();
  await expect(rep.getByRole('heading', { name: /Fjelltun Vann/ })).toBeVisible();
  await expect(rep).toHaveURL(/\/deals\/\d+$/);
  const deal = rep.url();
  // The gate of weighty deals has made a task: closing asks what becomes of it.
  await rep.getByRole('button', { name: 'Won', exact: true }).click();
  await expect(rep.getByText('its open task stays open')).toBeVisible();
  await rep.getByRole('button', { name: 'Move to Won' }).click();
  await expect(rep.getByRole('button', { name: 'Won', exact: true })).toHaveAttribute('aria-current', 'step');
  await rep.goto(`/leads/${id}`);
  await expect(rep.getByText('closed as won')).toBeVisible();
  await expect(rep.locator('.history')).toContainText('its deal “Fjelltun Vann” was won');
  await rep.getByRole('link', { name: 'Fjelltun Vann' }).last().click();
  await expect(rep).toHaveURL(deal);
  await rep.getByRole('button', { name: 'In talks' }).click();
  await expect(rep.getByRole('button', { name: 'Won', exact: true })).not.toHaveAttribute('aria-current', 'step');
  await rep.goto(`/leads/${id}`);
  await expect(rep.getByText('closed as won')).toHaveCount(0);
  await expect(rep.getByRole('button', { name: 'Close…' })).toBeVisible();
  await rep.context().close();
});

test('in the draft a gate makes a deal, with the usual time as it is now; enacting counts of how many leads', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/gates');
  await page.getByRole('button', { name: 'Edit Ripened' }).click();
  await page.getByRole('button', { name: '+ make a deal' }).click();
  await expect(page.getByRole('checkbox', { name: /or in the usual time/ })).toBeChecked();
  const days = page.getByLabel('Days until the deal that Ripened makes is expected to close');
  await days.fill('45');
  await days.blur();
  await expect(
    page.getByText('makes a deal in In talks, expected to close in the usual time, else 45 days').first(),
  ).toBeVisible();
  await page.goto('/enact');
  await choose(page, 'How far', 'and gates and routes');
  await expect(page.getByText(/Gates make a deal of \d+ leads? with that/)).toBeVisible({ timeout: 20_000 });
});

test('deals by stage say what they are worth and what is amiss with them; one click finds those', async ({
  page,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const values = { 'company.name': `Overdue Works ${Date.now()}` };
  const company = (await (await api.post('/api/companies', { headers, data: { values } })).json()) as { id: number };
  const late = { 'deal.name': 'Forgotten pumps', 'deal.close': '2020-01-31' };
  await api.post('/api/deals', { headers, data: { company: company.id, owner: 'maren', values: late } });
  await signIn(page, 'admin');
  await page.goto('/deals?layout=columns&find=Forgotten');
  const column = page.locator('.stage-column', { hasText: 'In talks' });
  await expect(column.locator('h3')).toContainText('EUR');
  await expect(column).toContainText('1 overdue to close');
  await expect(column.locator('.stage-card')).toContainText('should have closed on 2020-01-31');
  await expect(column.locator('.stage-card')).toContainText('no amount');
  await page.goto('/deals');
  await page.getByRole('button', { name: 'without an amount' }).click();
  await expect(page.getByRole('row', { name: /Forgotten pumps/ })).toBeVisible();
  await page.getByRole('button', { name: 'overdue to close' }).click();
  await expect(page.getByRole('row', { name: /Forgotten pumps/ })).toBeVisible();
});

test('leads are made of the contacts chosen in a list, in a pipeline of one’s choice; of one alone its lead is opened', async ({
  page,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const called = `Chosen ${Date.now()}`;
  for (const name of [`${called} Ane`, `${called} Bue`]) {
    const values = {
      'contact.name': name,
      'contact.email': `${name.replaceAll(' ', '.').toLowerCase()}@chosen.example`,
    };
    await api.post('/api/contacts', { headers, data: { values } });
  }
  await signIn(page, 'admin');
  await page.goto(`/contacts?find=${encodeURIComponent(called)}`);
  await page.getByRole('checkbox', { name: `Choose ${called} Ane` }).check();
  await page.getByRole('button', { name: 'Make a lead', exact: true }).click();
  await expect(page.getByRole('heading', { name: `${called} Ane` })).toBeVisible();
  await expect(page).toHaveURL(/\/leads\/\d+$/);
  await page.goto(`/contacts?find=${encodeURIComponent(called)}`);
  await page.getByRole('checkbox', { name: 'Choose all on this page' }).check();
  await choose(page, 'Pipeline of the new leads', 'Care plans');
  await page.getByRole('button', { name: 'Make a lead of each' }).click();
  await expect(page.getByText('2 leads made')).toBeVisible();
});
