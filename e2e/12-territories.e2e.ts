import { expect, test } from '@playwright/test';
import { choose, signIn } from './people';

test('a territory is drawn from pasted regions and postal codes, a region is given from the other side, an overlap mended, and taken out again', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/territories');
  await expect(page.locator('.territories')).toContainText('Bayern (DE)');
  const changed = page
    .locator('.impact-line', { hasText: 'Territories that change' })
    .or(page.locator('tr', { hasText: 'Territories that change' }));
  await page.getByRole('button', { name: '+ territory' }).click();
  await page.getByLabel('Name of the territory').fill('Rhine');
  await page.getByLabel('Name of the territory').press('Tab');
  await choose(page, 'Territory around it', 'D-A-CH');
  await page.getByLabel('Ground to add').fill('Nordrhein-Westfalen\nDE 50*, Atlantis\nAustria');
  await expect(page.getByText('not recognised: Atlantis')).toBeVisible();
  await page.getByRole('button', { name: 'Add 3' }).click();
  await expect(page.locator('.territories')).toContainText('Nordrhein-Westfalen (DE)');
  await expect(page.getByLabel('Ground to add')).toHaveValue('Atlantis');
  await expect(page.getByText('Whose is this address?')).toBeVisible();

  await page.getByLabel('Country', { exact: true }).fill('Deutschland');
  await page.getByLabel('Postal code', { exact: true }).fill('50667');
  await expect(page.locator('rv-whose-address')).toContainText('Rhine, by its postal code asked for by');

  // Austria is inside D-A-CH in both: the inner one counts. From the other side it is given to another tree, and that overlaps nothing.
  await page.getByLabel('Find a country or region').fill('hamburg');
  await choose(page, 'Territory of Hamburg (DE)', 'Nordics');
  await page.getByLabel('Region', { exact: true }).fill('Hamburg');
  await page.getByLabel('Postal code', { exact: true }).fill('20095');
  await expect(page.locator('rv-whose-address')).toContainText('Nordics, by its region');

  await page.getByRole('button', { name: 'Edit Iberia' }).click();
  await page.getByLabel('Ground to add').fill('Hamburg');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText(/Hamburg \(DE\) is covered by/)).toBeVisible();
  await page.getByRole('button', { name: /^Leave Hamburg \(DE\) to/ }).click();
  await expect(page.getByText(/Hamburg \(DE\) is covered by/)).toHaveCount(0);
  await expect(changed.first()).not.toContainText('=');

  for (const key of ['Iberia', 'Nordics']) {
    const editor = page.locator('rv-territory-editor');
    if (key === 'Nordics') await page.getByRole('button', { name: 'Edit Nordics', exact: true }).click();
    const take = editor.getByRole('button', { name: 'Take Hamburg (DE) out' });
    if ((await take.count()) > 0) await take.click();
    await editor.getByRole('button', { name: 'Done' }).click();
  }
  await page.getByRole('button', { name: 'Edit Rhine' }).click();
  await page.getByRole('button', { name: 'Take it out' }).click();
  await expect(page.locator('.territories')).not.toContainText('Rhine');
  await expect(changed.first()).toContainText('=');
});
