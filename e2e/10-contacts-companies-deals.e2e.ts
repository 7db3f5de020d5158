import { expect, test } from '@playwright/test';
import { apiOf, choose, pageOf, signIn } from './people';

test('a company is added before anyone there is known; a contact joins it, a lead that names it comes under both, and its deal is won', async ({
  page,
  baseURL,
}) => {
  const mark = Date.now();
  await signIn(page, 'admin');
  await page.getByRole('link', { name: 'Companies', exact: true }).click();
  await page.getByRole('link', { name: 'Add a company' }).click();
  await page.getByLabel('Name', { exact: true }).fill(`Quay Works ${mark}`);
  await page.getByRole('button', { name: 'Add the company' }).click();
  await expect(page.getByRole('heading', { name: `Quay Works ${mark}` })).toBeVisible();
  const company = page.url();

  await page.getByRole('link', { name: 'Add a contact' }).click();
  await page.getByLabel('E-mail').fill(`first@quay-${mark}.example`);
  await page.getByRole('button', { name: 'Add the contact' }).click();
  await expect(page.getByRole('link', { name: `first@quay-${mark}.example` })).toBeVisible();
  const contact = page.url();

  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const values = {
    ...{ name: 'Ingvild Quay', email: `first@quay-${mark}.example`, company: `Quay Works ${mark}`, country: 'NO' },
    ...{ industry: 'Brewery', employees: '80', deal_value: '42000 EUR' },
  };
  const answer = await api.post('/api/leads', { headers, data: { values } });
  const { id: lead } = (await answer.json()) as { id: number };
  for (const party of [contact, company]) {
    await page.goto(party);
    await expect(page.getByRole('main').locator(`a[href="/leads/${lead}"]`).first()).toBeVisible();
  }

  await page.goto(`/leads/${lead}`);
  await page.getByRole('link', { name: 'Make a deal' }).click();
  await expect(page.getByLabel('Amount')).toHaveValue(/42/);
  await page.getByRole('button', { name: 'Add the deal' }).click();
  const here = page.locator('.deal-stages [aria-current=step]');
  // A gate takes a deal of that amount further, and asks before the next stage once a meeting was held.
  await expect(here).toHaveText('Site survey');
  await expect(page.locator('.facts .tag')).toHaveText('Weighty');
  await page.getByText('Why has it not moved?').click();
  await expect(page.locator('rv-not-moved')).toContainText('Ready for an offer?');
  await page.getByRole('button', { name: '+ note what happened' }).click();
  await choose(page, 'What happened', 'Meeting held');
  await page.getByRole('button', { name: 'Note it' }).click();
  await expect(page.locator('.proposal')).toContainText('Ready for an offer?');
  await page.getByRole('button', { name: 'Take the rule’s pick' }).click();
  await expect(here).toHaveText('Offer made');
  await expect(page.getByRole('link', { name: 'Ingvild Quay' }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Lost', exact: true }).click();
  await page.getByLabel('Why it was lost').fill('no budget this year');
  await page.getByRole('button', { name: 'Move to Lost' }).click();
  await expect(here).toHaveText('Lost');
  await page.getByRole('button', { name: 'Won', exact: true }).click();
  await expect(here).toHaveText('Won');

  // `/` finds over all kinds, and takes one to what it found.
  await page.keyboard.press('/');
  await page.getByLabel('Name, e-mail, telephone or domain').fill(`Quay Works ${mark}`);
  await expect(page.locator('.find h2')).toHaveText(['Leads', 'Companies', 'Deals']);
  await page.locator('.found a[href^="/companies/"]').click();
  await expect(page).toHaveURL(company);
});

test('two companies that look like one are looked at side by side, joined, and taken apart again', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/companies');
  await page.getByRole('link', { name: 'Possible duplicates' }).click();
  const row = page.locator('tbody tr').filter({ hasText: 'company' }).first();
  await expect(row).toBeVisible();
  const [older, younger] = await row.locator('td a').evaluateAll((links) => links.map((a) => a.getAttribute('href')));
  await row.getByRole('link', { name: 'Look at joining…' }).click();
  await page.getByRole('button', { name: 'Show what would happen' }).click();
  await expect(page.getByText('It can be undone for ten days.')).toBeVisible();
  await page.getByRole('button', { name: 'Join the two' }).click();
  await expect(page).toHaveURL(new RegExp(`${older}$`));
  await expect(page.getByText('was joined into this one')).toBeVisible();
  // Its address leads to the one it went into.
  const joined = await page.request.get(`/api${younger}`);
  expect(((await joined.json()) as { id: number }).id).toBe(Number(older?.split('/').at(-1)));
  await page.getByRole('button', { name: 'Take it apart again' }).click();
  await expect(page.getByText('was joined into this one')).toHaveCount(0);
  await page.goto(younger ?? '');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
});

test('what a hand sets on a company stays and is marked, a stale edit is refused with the newest value, and a rep sees only what is theirs', async ({
  page,
  browser,
}) => {
  await signIn(page, 'admin');
  await page.goto('/companies');
  const link = page.locator('table.records tbody tr').last().getByRole('link');
  await link.click();
  // The page that came, since more rows may come as one clicks the last.
  await expect(page).toHaveURL(/\/companies\/\d+$/);
  const path = new URL(page.url()).pathname;
  const beside = await pageOf(browser, 'admin');
  await beside.goto(path);
  const employees = (of: typeof page) => of.getByRole('button', { name: 'Edit Employees' });
  const put = async (of: typeof page, text: string) => {
    await employees(of).click();
    await of.getByLabel('Employees', { exact: true }).fill(text);
    await of.getByRole('button', { name: 'Save', exact: true }).click();
  };
  await expect(employees(beside)).toBeVisible();
  await put(page, '321');
  await expect(page.getByRole('main')).toContainText('321');
  await put(beside, '654');
  await expect(beside.getByRole('alert')).toBeVisible();
  await expect(beside.getByRole('main')).toContainText('321');

  const rep = await pageOf(browser, 'rep');
  await rep.goto('/companies');
  const count = rep.getByRole('heading', { level: 1 });
  await expect(count).toContainText(/\d+ compan/);
  const mine = Number(/([\d,]+) compan/.exec((await count.textContent()) ?? '')?.[1]?.replace(',', ''));
  expect(mine).toBeGreaterThan(0);
  expect(mine).toBeLessThan(200);
});

test('contacts come by file with their companies, a call is noted on one, and it is carried as tracer and taken back', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/intake');
  const mark = Date.now();
  await page.getByLabel('The file has').click();
  await page.getByRole('option', { name: 'contacts' }).click();
  const rows = ['Name,E-mail,Company', `Ola Brygge,ola@brygge-${mark}.example,Brygge ${mark}`, ',,Nobody'];
  await page
    .getByLabel('CSV file of contacts')
    .setInputFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) });
  const outcome = page.locator('.outcome');
  await expect(outcome).toContainText('1 rows accepted · 1 refused');
  await expect(
    outcome.getByRole('row', { name: /2 .*Name a contact needs a name or an e-mail refused/ }),
  ).toBeVisible();

  await page.goto(`/find?text=ola@brygge-${mark}.example`);
  await page.locator('.found a[href^="/contacts/"]').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(`Ola Brygge Brygge ${mark}`);
  await page.getByRole('button', { name: '+ note what happened' }).click();
  await page.getByLabel('What happened', { exact: true }).click();
  await page.getByRole('option', { name: 'Call taken' }).click();
  await page.getByLabel('About what').fill('a berth in May');
  await page.getByRole('button', { name: 'Note it' }).click();
  await expect(page.locator('.history')).toContainText('Call taken about a berth in May');
  await page.getByRole('button', { name: 'Carry as tracer' }).click();
  await page.getByRole('link', { name: 'Why? What if?' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Ola Brygge, as if it came in now');
  await expect(page.getByRole('link', { name: 'Open the contact' })).toBeVisible();

  // Somebody worked on it: the file stays.
  await page.goto('/intake');
  await page.getByRole('button', { name: 'people.csv' }).first().click();
  await expect(page.locator('.outcome')).toContainText('It can’t be undone: contacts of it were worked on since');
});
