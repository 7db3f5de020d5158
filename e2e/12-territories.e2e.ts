import { expect, test } from '@playwright/test';
import { choose, signIn } from './people';

test('a territory is drawn from pasted regions and postal codes, a region is given from the other side, an overlap mended, and taken out again', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/territories');
  await expect(page.locator('.territories')).toContainText('Bayern (DE)');
  const changed = page.locator('tr', { hasText: 'Territories that change' });
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

  // Ground that is given away from the other side is taken from whoever had it: nothing overlaps.
  await page.getByLabel('Find a country or region').fill('hamburg');
  await choose(page, 'Territory of Hamburg (DE)', 'Nordics');
  await page.getByLabel('Region', { exact: true }).fill('Hamburg');
  await page.getByLabel('Postal code', { exact: true }).fill('20095');
  await expect(page.locator('rv-whose-address')).toContainText('Nordics, by its region');

  await page.getByRole('button', { name: 'Edit Iberia' }).click();
  await page.getByLabel('Ground to add').fill('Hamburg');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText(/Hamburg \(DE\) is covered by/)).toBeVisible();
  // The list of findings offers the same, once it is there.
  await page
    .getByRole('button', { name: /^Leave Hamburg \(DE\) to/ })
    .first()
    .click();
  await expect(page.getByText(/Hamburg \(DE\) is covered by/)).toHaveCount(0);
  await expect(changed).not.toContainText('=');

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
  await expect(changed).toContainText('=');
});

test('all of the map without a mouse: ground is chosen, given and taken back by keys, the map moved and zoomed', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/territories');
  const malta = page.locator('.grounds path[data-code="MT"] title');
  await expect(malta).toHaveText(/^Malta: open ground, \d+ leads?$/);
  const moves = page.locator('.moves path');
  // The one that opened last: another may still be closing.
  const list = page.locator('.p-select-overlay').last();
  const movesBefore = await moves.count();
  await page.getByRole('combobox', { name: 'Choose a country or region' }).focus();
  await page.keyboard.press('Enter');
  await expect(list.getByRole('searchbox')).toBeFocused();
  await page.keyboard.type('malta');
  await expect(list.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  const chosen = page.locator('rv-chosen-ground');
  await expect(chosen).toContainText('Malta');
  await page.getByRole('combobox', { name: 'Territory for the chosen ground' }).focus();
  await page.keyboard.press('Enter');
  await expect(list.getByRole('searchbox')).toBeFocused();
  await page.keyboard.type('iberia');
  await expect(list.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(chosen).toContainText('If it moved');
  await page.getByRole('button', { name: 'Give', exact: true }).press('Enter');
  await expect(malta).toHaveText(/^Malta: Iberia/);
  await expect(moves).toHaveCount(movesBefore + 1);

  const map = page.locator('rv-territory-map svg');
  const place = () => page.locator('g.world').getAttribute('transform');
  const before = await place();
  await map.focus();
  await page.keyboard.press('+');
  await expect.poll(place).not.toBe(before);
  const nearer = await place();
  await page.keyboard.press('ArrowLeft');
  await expect.poll(place).not.toBe(nearer);

  await page.getByRole('button', { name: 'Undo the last change' }).press('Enter');
  await expect(malta).toHaveText(/^Malta: open ground/);
});

test('a misspelled region is taken for what it means, corrects what waits, and is taken back', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/unjudged');
  const take = page
    .locator('tr', { hasText: 'State or region' })
    .getByRole('button', { name: /^Take .+ for (?!something)/ })
    .first();
  const [, written = '', means = ''] = /^Take (.+) for (.+)$/.exec((await take.getAttribute('aria-label')) ?? '') ?? [];
  await take.click();
  await expect(page.locator('rv-take-spelling')).toContainText(/It corrects \d+ leads? in State or region/);
  await page.getByRole('button', { name: 'Add the spelling' }).click();
  await expect(page.getByText(`“${written}” stands for ${means}`)).toBeVisible();
  await expect(page.getByRole('button', { name: `Take ${written} for ${means}` })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(`“${written}” is no spelling any more`)).toBeVisible();
  await expect(page.getByRole('button', { name: `Take ${written} for ${means}` }).first()).toBeVisible();
});

test('leads are pinned to a territory from the list, and let go on their page', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/leads?territory=iberia');
  const row = page.locator('.leads tbody tr').first();
  const lead = await row.locator('a').first().getAttribute('href');
  await row.getByRole('checkbox').check();
  await choose(page, 'Territory to keep in', 'Canada');
  await page.getByLabel('Why it is kept there').fill('Worked from there');
  await page.getByRole('button', { name: 'Pin', exact: true }).click();
  await expect(page.getByText('1 lead changed.')).toBeVisible();

  await page.goto(lead ?? '');
  await expect(page.locator('.facts')).toContainText('Canada pinned');
  await expect(page.locator('.history')).toContainText('Pinned to Canada: Worked from there');
  await choose(page, 'Territory to keep in', 'that of the address');
  await page.getByRole('button', { name: 'Unpin' }).click();
  await expect(page.locator('.facts')).toContainText('Iberia');
  await expect(page.locator('.facts')).not.toContainText('pinned');
});
