import { expect, test } from '@playwright/test';
import { apiOf, choose, signIn } from './people';

test('a visitor fills the form, is asked again about a value that can’t be read, and the lead has an owner with the reasons', async ({
  page,
  context,
}) => {
  await page.goto('/form/sensing');
  await page.getByLabel('Name').fill('Torvald Prøve');
  await page.getByLabel('Company').fill('Prøvesund Brygg');
  await page.getByLabel('E-mail').fill('torvald.prove@provesund-brygg.example');
  await page.getByLabel('Title').fill('Plant manager');
  await choose(page, 'Country', 'Norway');
  await choose(page, 'Industry', 'Brewery');
  await choose(page, 'Product interest', 'Buoy');
  await page.getByLabel('Employees').fill('about 80');
  await page.getByLabel('Deal value').fill('20000 EUR');
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('is not a number')).toBeVisible();
  await page.getByLabel('Employees').fill('80');
  await page.getByRole('button', { name: 'Send', exact: true }).dblclick();
  await expect(page.getByRole('status')).toContainText('Thank you');

  const admin = await context.newPage();
  await signIn(admin, 'admin');
  await admin.goto('/leads?find=Prøvesund');
  await expect(admin.locator('h1 .quiet')).toHaveText('1 lead');
  await admin.getByRole('link', { name: 'Torvald Prøve' }).click();
  // 20 industry + 16 size + 16 budget + 16 title; one form filled gives 20.
  await expect(admin.getByText('68 − 0 = 68')).toBeVisible();
  await expect(admin.getByText('B stirring').first()).toBeVisible();
  await expect(admin.getByText(/Qualified at once became true, moves/)).toBeVisible();
  await expect(
    admin.getByText(/Projects from 160,000 does not match Deal value from 160,000 EUR \(is 20,000 EUR\)/),
  ).toBeVisible();
  await expect(admin.getByText(/Nordics matches/)).toBeVisible();
  await expect(admin.getByText('leads to Team north')).toBeVisible();
  await admin.getByRole('button', { name: 'Now', exact: true }).click();
  await expect(admin.getByText(/As it would be judged now/)).toBeVisible();
  await expect(admin.getByText('68 − 0 = 68')).toBeVisible();
});

test('another system sends a lead with a key made here; wrong keys, fields and bodies get a clear answer, a repetition none', async ({
  page,
  request,
}) => {
  await signIn(page, 'admin');
  await page.goto('/intake');
  await page.getByLabel('What the key is for').fill('Fair app');
  await page.locator('p-multiselect').click();
  for (const field of ['Name', 'E-mail', 'Country', 'Deal value'])
    await page.getByRole('option', { name: field, exact: true }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Make a key' }).click();
  const secret = (await page.locator('.secret .code').textContent())?.trim() ?? '';
  expect(secret).toMatch(/^rk_/);

  const send = (values: object, headers: Record<string, string> = {}) =>
    request.post('/api/intake/leads', { data: { values }, headers: { Authorization: `Bearer ${secret}`, ...headers } });
  const lead = { name: 'Maren Prøve', email: 'maren@system.example', country: 'Norwey?', deal_value: 'a lot' };
  const first = await send(lead, { 'Idempotency-Key': 'one' });
  expect(first.status()).toBe(201);
  const accepted = (await first.json()) as { id: number; warnings: { field: string }[] };
  expect(accepted.warnings.map((warning) => warning.field)).toEqual(['country', 'deal_value']);
  expect(await (await send(lead, { 'Idempotency-Key': 'one' })).json()).toEqual(accepted);
  expect((await send({ ...lead, name: 'Other' }, { 'Idempotency-Key': 'one' })).status()).toBe(422);
  expect(await (await send({ name: 'x', owner: 'rep' })).json()).toMatchObject({
    status: 422,
    errors: [{ path: '/values/owner' }],
  });
  expect((await send(lead, { Authorization: 'Bearer wrong' })).status()).toBe(401);

  await page.goto(`/leads/${accepted.id}`);
  await expect(page.getByText('Bay: can’t be judged').first()).toBeVisible();
});

test('a file of leads is taken in row by row; what can’t be is named by row and field, a known owner is kept', async ({
  page,
  baseURL,
}) => {
  await signIn(page, 'admin');
  await page.goto('/intake');
  const rows = [
    'Name,Company,Industry,E-mail,Country,Employees,owner',
    'Liv Fil,Fil Havbruk,Fish farm,liv@fil.example,NO,40,Rhona Ardmore',
    ',,,,NO,12,',
    'Odd Fil,Fil Havbruk,Fish farm,odd@fil.example,NO,many,',
    'Liv Fil,Fil Havbruk,,LIV@fil.example,Norway,45,',
  ];
  await page
    .getByLabel('CSV file of leads')
    .setInputFiles({ name: 'leads.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\r\n')) });
  const outcome = page.locator('.outcome');
  await expect(outcome).toContainText('3 rows accepted, 1 of them joined open leads');
  await expect(outcome).toContainText('1 refused');
  await expect(outcome.getByRole('row', { name: /2 E-mail nothing tells who it is.*refused/ })).toBeVisible();
  await expect(outcome.getByRole('row', { name: /3 Employees “many” is not a number accepted/ })).toBeVisible();

  const { api } = await apiOf(baseURL ?? '', 'admin');
  const found = (await (await api.get('/api/leads?find=liv@fil.example')).json()) as { rows: { place: object }[] };
  expect(found.rows.map((row) => row.place)).toEqual([{ kind: 'owner', rep: 'rhona' }]);
});
