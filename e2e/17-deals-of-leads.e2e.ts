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
