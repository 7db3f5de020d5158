import { expect, type Page, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { apiOf, choose, signIn } from './people';

/** A draft of its own, open for the admin. */
async function begin(page: Page, baseURL: string | undefined, name: string): Promise<void> {
  const admin = await apiOf(baseURL ?? '', 'admin');
  await admin.api.post('/api/drafts', { headers: admin.headers, data: { name } });
  await signIn(page, 'admin');
}

const impact = (page: Page) => page.locator('rv-impact-panel');
const headline = (page: Page) => impact(page).locator('.headline');

test('points typed, a cut dragged and a condition edited show at once what becomes of all leads; only enacting acts', async ({
  page,
  baseURL,
}) => {
  test.slow();
  await begin(page, baseURL, 'Seen first');
  await page.goto('/score');
  await expect(headline(page)).toContainText('No lead changes grade.');
  await page.getByLabel('Points for Mail clicked').fill('25');
  await expect(headline(page)).toContainText(/[\d,]+ of [\d,]+ leads change grade:\s+[\d,]+ up,\s+0 down/);
  await expect(impact(page).getByText('counting')).toHaveCount(0);
  await expect(impact(page).locator('.behind')).toHaveCount(0);
  const risen = await headline(page).locator('b').first().textContent();

  // By keyboard: the handle of a cut moves a point at a time.
  const handle = page.getByRole('slider', { name: 'Handle of the cut between stirring and active' });
  await handle.focus();
  for (let i = 0; i < 3; i += 1) await page.keyboard.press('ArrowRight');
  await expect(handle).toHaveAttribute('aria-valuenow', '39');
  await expect(headline(page).locator('b').first()).not.toHaveText(risen ?? '');

  await page.getByRole('button', { name: 'Edit Pulp mill' }).click();
  const editor = page.locator('rv-signal-editor');
  await expect(editor.locator('.match')).toContainText(/[\d,]+ leads match/);
  const before = await editor.locator('.match b').textContent();
  const values = editor.getByRole('combobox', { name: 'Values' });
  await values.click();
  await values.evaluate((field) => {
    const data = new DataTransfer();
    data.setData('text', 'Vineyard\nGolf course');
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(editor.locator('.match b')).not.toHaveText(before ?? '');
  await choose(page, 'Asked about', 'Product interest');
  await choose(page, 'Question', 'is none of');
  await expect(editor.locator('.match')).toContainText('are blank');
  await editor.getByRole('button', { name: '+ test' }).click();
  await expect(editor.locator('rv-test-editor')).toHaveCount(2);

  await impact(page).getByRole('button', { name: 'On enact' }).click();
  await expect(headline(page)).toContainText('leads change grade');
  await expect(impact(page).getByText('Stages that move').locator('xpath=ancestor::tr')).toContainText('=');
  await expect(page.getByText('saving …')).toHaveCount(0);

  const { api } = await apiOf(baseURL ?? '', 'admin');
  const { inForce } = (await (await api.get('/api/charters')).json()) as { inForce: { charter: { name: string } } };
  expect(inForce.charter.name).not.toBe('Seen first');
});

test('each part of the impact has its picture, and a lead that changes opens its reasoning under both charters', async ({
  page,
  baseURL,
}) => {
  await begin(page, baseURL, 'Pictured');
  await page.goto('/score');
  await page.getByLabel('Points for Mail clicked').fill('25');
  await expect(headline(page)).toContainText(/leads change grade/);
  const tab = (name: string) => impact(page).getByRole('tab', { name });
  const chart = impact(page).locator('rv-shift-chart svg');
  await tab('Stage').click();
  await expect(chart).toHaveAttribute('aria-label', /Qualified \d+ to \d+/);
  await tab('Territory').click();
  await expect(chart).toHaveAttribute('aria-label', /Open ground \d+ to \d+/);
  await tab('Owner').click();
  await expect(impact(page)).toContainText('the line is the limit');
  await expect(chart.locator('.limit').first()).toBeAttached();
  await tab('Grade').click();
  // The list is drawn anew as names and owners come: the lead that was read is the one that is opened.
  const names = impact(page).locator('.changed .name');
  // A lead is called by its number until its name has come.
  await expect(names.first()).not.toHaveText(/^(Lead \d+)?$/);
  const name = await names.first().textContent();
  await names
    .getByText(name ?? '', { exact: true })
    .first()
    .click();
  await expect(page).toHaveURL(/\/tracer$/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(name ?? '');
  await expect(page.locator('.tracer-columns rv-decision')).toHaveCount(2);
});

test('where leads are too many for a browser the server counts, and the page is the same', async ({
  page,
  baseURL,
}) => {
  await begin(page, baseURL, 'Counted elsewhere');
  await page.goto('/score');
  await page.getByLabel('Points for Mail clicked').fill('25');
  await expect(headline(page)).toContainText(/leads change grade/);
  const here = await headline(page).textContent();
  await expect(page.getByText('saving …')).toHaveCount(0);
  await page.route('**/api/population/version', async (route) => {
    const answer = await route.fetch();
    await route.fulfill({ json: { ...((await answer.json()) as object), place: 'server' } });
  });
  let sent = 0;
  page.on('request', (request) => {
    if (request.url().endsWith('/api/population')) sent += 1;
  });
  await page.goto('/score');
  await expect(headline(page)).toHaveText(here ?? '', { timeout: 20_000 });
  await expect(impact(page).getByText('counting')).toHaveCount(0);
  await page.getByLabel('Points for Mail clicked').fill('5');
  await expect(headline(page)).not.toHaveText(here ?? '');
  expect(sent).toBe(0);
});

test('a condition that reads names is counted by the server, and the population holds none', async ({
  page,
  baseURL,
}) => {
  await begin(page, baseURL, 'By name');
  let asked = 0;
  page.on('request', (request) => {
    if (request.url().endsWith('/api/population/lookups')) asked += 1;
  });
  await page.goto('/gates');
  await expect(headline(page)).toBeVisible();
  await page.getByRole('button', { name: '+ gate' }).click();
  await page.getByRole('button', { name: '+ test' }).click();
  await choose(page, 'Asked about', 'Name');
  await choose(page, 'Question', 'starts with');
  const field = page.getByRole('combobox', { name: 'Values' });
  await field.fill('Konrad');
  await field.press('Enter');
  await expect(page.locator('.match')).toContainText(/^\s*[1-9][\d,]* leads? match/);
  await expect(page.locator('.match')).toContainText('…');
  expect(asked).toBeGreaterThan(0);
  const { api } = await apiOf(baseURL ?? '', 'admin');
  expect((await (await api.get('/api/population')).body()).includes('Konrad')).toBe(false);
});

test('the tracer shows both charters at every step; what is typed over answers at once and changes nothing', async ({
  page,
  baseURL,
}) => {
  const admin = await apiOf(baseURL ?? '', 'admin');
  const values = {
    name: 'Sporet Lead',
    email: 'spor@lead.example',
    industry: 'Brewery',
    country: 'DE',
    employees: '60',
  };
  const { id } = (await (await admin.api.post('/api/leads', { headers: admin.headers, data: { values } })).json()) as {
    id: number;
  };
  await begin(page, baseURL, 'Traced');
  await page.goto('/score');
  await expect(headline(page)).toBeVisible();
  await page.keyboard.press('t');
  await page.getByRole('searchbox', { name: 'Find a record to carry' }).fill('Sporet');
  await page.getByRole('button', { name: /^Sporet Lead lead/ }).click();
  const bar = page.getByRole('region', { name: 'Tracer' });
  const fit = bar.locator('.cell', { hasText: 'Fit' });
  await expect(bar).toContainText('Sporet Lead');
  const now = Number((await fit.locator('.value').textContent())?.trim());
  await page.getByLabel('Points for Employees in [40, 400)').fill('22');
  await expect(fit).toContainText(new RegExp(`${now}\\s*→ \\d+`));
  await page.getByRole('link', { name: 'Why? What if?' }).click();
  await page.getByRole('textbox', { name: 'Employees' }).fill('about sixty');
  await expect(page.locator('.tracer-columns')).toContainText('is not a number');
  await expect(fit).toContainText('can’t be judged');
  await page.getByRole('textbox', { name: 'Employees' }).fill('5');
  await expect(page.locator('.tracer-columns')).toContainText('−12 Employees below 8', { useInnerText: true });
  await page.getByRole('button', { name: 'Back to what is stored' }).click();
  await expect(page.getByRole('textbox', { name: 'Employees' })).toHaveValue('60');
  const lead = (await (await admin.api.get(`/api/leads/${id}`)).json()) as {
    values: { field: string; shown: string }[];
  };
  expect(lead.values.find((value) => value.field === 'employees')?.shown).toBe('60');
});

test('drafts are copied, compared, exported, imported and discarded, and all of it stands in the journal', async ({
  page,
  baseURL,
}) => {
  await begin(page, baseURL, 'Kept apart');
  await page.goto('/charters');
  await page.getByRole('button', { name: 'Copy Kept apart' }).click();
  await page.getByLabel('Name of the draft').fill('Kept apart, again');
  await page.getByRole('button', { name: 'Create', exact: true }).click();
  await expect(page.locator('.charter-row', { hasText: 'Kept apart, again' })).toContainText('open');
  await page.goto('/score');
  await page.getByLabel('Points for Referral').or(page.getByLabel('Points for Came by referral')).fill('31');
  await expect(page.getByText('saving …')).toHaveCount(0);
  await page.goto('/charters');
  await expect(page.locator('.changes')).toContainText('Points for “Came by referral” +12 → +31');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export Kept apart, again' }).click(),
  ]);
  const text = readFileSync(await download.path(), 'utf8');
  expect(JSON.parse(text)).toMatchObject({ format: 'relvik-charter-file', charter: { name: 'Kept apart, again' } });

  const input = page.getByLabel('Import a charter');
  await input.setInputFiles({
    name: 'forged.json',
    mimeType: 'application/json',
    buffer: Buffer.from(text.replace('"points": 31', '"points": 32')),
  });
  await expect(page.getByRole('alert')).toContainText('does not fit the charter');
  await input.setInputFiles({ name: 'whole.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(page.locator('.charter-row', { hasText: 'Kept apart, again' })).toHaveCount(2);
  await page.getByRole('button', { name: 'Discard Kept apart', exact: true }).click();
  await page.getByRole('button', { name: 'Discard Kept apart for good' }).click();
  await expect(page.locator('.history')).toContainText('Discarded Kept apart');
  await expect(page.locator('.history')).toContainText('Imported Kept apart, again');
});

test('the watershed opens the leads behind each part, and the draft’s water lies over the course', async ({
  page,
  baseURL,
}) => {
  await begin(page, baseURL, 'Another water');
  await expect(page.locator('.draft-bank')).toBeVisible();
  const node = page.getByRole('link', { name: /^Trade show, \d+ leads/ });
  const count = Number(/, (\d+) leads/.exec((await node.getAttribute('aria-label')) ?? '')?.[1]);
  await node.focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/source=Trade\+show|source=Trade%20show/);
  await expect(page.locator('h1 .quiet')).toHaveText(`${count} leads`);
});
