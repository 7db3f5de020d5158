import { expect, test } from '@playwright/test';
import { apiOf, signIn } from './people';

test('the steps of the course are reached by keys, but not while one types', async ({ page }) => {
  await signIn(page, 'admin');
  await expect(page.getByRole('heading', { name: /^Watershed/ })).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('2');
  await expect(page).toHaveURL(/\/score$/);
  await page.keyboard.press('/');
  await expect(page).toHaveURL(/\/find/);
  await expect(page.getByRole('searchbox', { name: /^Name, e-mail/ })).toBeFocused();
  await page.keyboard.type('g6');
  await expect(page).toHaveURL(/\/find\?text=g6/);
});

test('whoever tabs can skip the frame and reach the page', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/people');
  await expect(page.getByRole('heading', { name: /^People/ })).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'To the page’s content' })).toBeFocused();
});

test('filters stand in the address, so that a list can be shared and the way back leads to it', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/leads?place=bay');
  const first = page.locator('.leads tbody a').first();
  await expect(first).toBeVisible();
  await first.click();
  await expect(page.getByRole('heading', { name: 'Reasoning' })).toBeVisible();
  await page.goBack();
  await expect(page).toHaveURL(/place=bay/);
  await expect(page.locator('.place.bay').first()).toBeVisible();
});

test('home leads to what waits, and its numbers are those of the lists', async ({ page }) => {
  await signIn(page, 'admin');
  const need = page.locator('.need', { hasText: 'were taken by no route' });
  const count = Number(/^(\d+) leads?/.exec((await need.locator('strong').textContent()) ?? '')?.[1]);
  await need.click();
  await expect(page.locator('h1 .quiet')).toHaveText(`${count} leads`);
  await expect(page.locator('.leads tbody tr')).toHaveCount(count);
});

test('someone else’s edit in between is said, and the lead shown as it is now', async ({ page, baseURL }) => {
  const other = await apiOf(baseURL ?? '', 'admin');
  const values = { name: 'Samtidig Endring', email: 'samtidig@endring.example', industry: 'Waterworks' };
  const made = await other.api.post('/api/leads', { headers: other.headers, data: { values } });
  const { id } = (await made.json()) as { id: number };
  await signIn(page, 'admin');
  await page.goto(`/leads/${id}`);
  await page.getByRole('button', { name: 'Edit Title' }).click();
  await page.getByRole('textbox', { name: 'Title' }).fill('Owner');
  await other.api.patch(`/api/leads/${id}`, {
    headers: other.headers,
    data: { version: 1, values: { company: 'Endring AS' } },
  });
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert')).toContainText('Someone changed this lead meanwhile');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Endring AS');
  await expect(page.getByRole('textbox', { name: 'Title' })).toHaveValue('Owner');
});

test('a page that is not there says so', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/nowhere');
  await expect(page.getByRole('heading', { name: 'There is nothing here' })).toBeVisible();
});
