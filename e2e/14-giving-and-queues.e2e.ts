import { expect, test } from '@playwright/test';
import { apiOf, choose, pageOf, signIn } from './people';

test('many leads are given to a team at once, after it is shown who would get how many', async ({ page, baseURL }) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const ids: number[] = [];
  for (const n of [1, 2, 3]) {
    const values = {
      ...{ name: `Teamvik Bulkhand ${n}`, email: `given-${n}-${Date.now()}@given.example` },
      ...{ country: 'France', industry: 'Waterworks', employees: '300' },
    };
    const made = await api.post('/api/leads', { headers, data: { values } });
    ids.push(((await made.json()) as { id: number }).id);
  }
  await signIn(page, 'admin');
  await page.goto('/leads?find=Teamvik%20Bulkhand');
  await expect(page.getByText('Teamvik Bulkhand 1')).toBeVisible();
  await page.locator('#choose-all').click();
  await choose(page, 'Give to', 'Team centre');
  const give = page.locator('rv-give-leads');
  await expect(give).toContainText(/would go to: .*\d/);
  await give.getByRole('button', { name: 'Give' }).click();
  await expect(give).toContainText(/Given: .*\d/);
  for (const id of ids)
    expect(await (await api.get(`/api/leads/${id}`)).json()).toMatchObject({ place: { kind: 'owner' } });
});

test('a rep picks the next of a queue and gives it back with a reason', async ({ browser, baseURL }) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  // Good enough that no gate declines it.
  const good = { country: 'France', industry: 'Waterworks', employees: '300' };
  const values = { name: 'Waits In Projects', email: `projects-${Date.now()}@queue.example`, ...good };
  const made = (await (await api.post('/api/leads', { headers, data: { values } })).json()) as { id: number };
  // However many leads the demo left them with, they may take one more.
  await api.patch('/api/people/rep', { headers, data: { mayTakeLeads: true, whyNot: null, limit: null } });
  const given = await api.post('/api/leads/give', { headers, data: { ids: [made.id], to: 'queue', key: 'projects' } });
  expect(await given.json()).toMatchObject({ done: [made.id], refused: [] });

  const rep = await pageOf(browser, 'rep');
  await rep.locator('.own-queue', { hasText: 'Projects' }).getByRole('button', { name: 'Pick the next' }).click();
  await rep.getByRole('button', { name: 'Give back…' }).click();
  await rep.getByRole('button', { name: 'Back to the queue' }).click();
  await expect(rep.getByRole('alert')).toContainText('Say why, in a few words');
  await rep.getByLabel('Why it goes back').fill('Needs someone who knows pumps');
  await rep.getByRole('button', { name: 'Back to the queue' }).click();
  await expect(rep.locator('.facts')).toContainText('Queue Projects');
  await expect(rep.locator('.history')).toContainText('queue Projects: Needs someone who knows pumps');
  await rep.context().close();
});

test('the bay names who could take what waits, and it is given away from there', async ({ page, baseURL }) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const values = {
    name: 'Bay Guest',
    email: `bay-${Date.now()}@bay.example`,
    deal_value: 'as agreed',
    employees: 'a few',
  };
  const made = (await (await api.post('/api/leads', { headers, data: { values } })).json()) as { id: number };
  await signIn(page, 'admin');
  await page.goto('/bay');
  const group = page.locator('.bay-group', { hasText: 'Can’t be judged: Employees, Deal value' }).first();
  await expect(group).toContainText('Correct the values');
  await group.locator(`#choose-${made.id}`).click();
  await choose(page, 'Give to', 'Lorenz Achterberg');
  await page.locator('rv-give-leads').getByRole('button', { name: 'Give' }).click();
  await expect(page.getByText('Given: Lorenz Achterberg')).toBeVisible();
  await expect(group.getByText('Bay Guest')).toHaveCount(0);
});

test('people come out of a file, and what it changes is shown before it is done', async ({ page }) => {
  const mark = Date.now();
  await signIn(page, 'admin');
  await page.goto('/people');
  const file = (text: string) => ({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  const input = page.getByLabel('CSV file of people');
  await input.setInputFiles(file('e-mail,limit\nghost,many\n'));
  await expect(page.getByRole('alert')).toContainText('Row 1, e-mail: is none: ghost');
  await input.setInputFiles(
    file(
      `e-mail,name,teams,limit,time zone,hours\nnova-${mark}@ostervane.example,Nova Filer ${mark},Team overseas,7,Asia/Tokyo,Mon-Fri 9-17\n`,
    ),
  );
  await expect(page.getByText('1 new, 0 changed, 0 as they are')).toBeVisible();
  await page.getByRole('button', { name: 'Take it over' }).click();
  const nova = page.locator('.people tr', { hasText: `Nova Filer ${mark}` });
  await expect(nova).toContainText('Team overseas');
  await expect(nova).toContainText('Mon–Fri 09:00-17:00, Asia/Tokyo');
});

test('while a rep is away their leads are with the deputy, and come back', async ({ browser, page, baseURL }) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const good = { country: 'France', industry: 'Waterworks', employees: '300' };
  const values = { name: 'Stood In For', email: `deputy-${Date.now()}@deputy.example`, ...good };
  const made = (await (await api.post('/api/leads', { headers, data: { values, owner: 'rep' } })).json()) as {
    id: number;
  };
  await signIn(page, 'admin');
  await page.goto('/people');
  await page.getByRole('button', { name: /^Edit Aksel/ }).click();
  await choose(page, 'Deputy', 'Maren Ytterbø');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.locator('.people tr', { hasText: 'Aksel Dahlstrøm' }).first()).toContainText(
    'deputy Maren Ytterbø',
  );

  const rep = await pageOf(browser, 'rep');
  await expect(rep.locator('.presence')).toContainText(
    'Maren Ytterbø takes over while you are away, and you get them back',
  );
  await rep.getByRole('button', { name: 'I am away' }).click();
  await expect(rep.locator('.presence')).toContainText('You are away');
  await page.goto(`/leads/${made.id}`);
  await expect(page.locator('.facts')).toContainText('stands in for Aksel');
  await expect(page.locator('.history')).toContainText('is away: Maren Ytterbø stands in');
  await rep.getByRole('button', { name: 'I am here again' }).click();
  await expect(rep.locator('.presence')).toContainText('You are here');
  await page.reload();
  await expect(page.locator('.facts')).not.toContainText('stands in for');
  await api.patch('/api/people/rep', {
    headers,
    data: { mayTakeLeads: true, whyNot: null, limit: 30, deputy: null },
  });
  await rep.context().close();
});

test('the week of a team shows who works when, loads and who is next, and the week after', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/people');
  await page.getByRole('link', { name: 'Week of a team' }).click();
  await choose(page, 'Team', 'Team north');
  const jorun = page.locator('.week-view tbody tr', { hasText: 'Jorun Haldorsen' });
  await expect(jorun.getByText('all day')).toHaveCount(7);
  await expect(jorun).toContainText(/works now/);
  await expect(page.locator('.week-view')).toContainText('Nordics');
  await expect(page.locator('.week-view .today')).toHaveCount(1);
  await page.getByRole('button', { name: 'Next week' }).click();
  await expect(page.locator('.week-view .today')).toHaveCount(0);
  await expect(page).toHaveURL(/day=\d{4}-\d{2}-\d{2}/);
});

test('what people got of a route stands beside what they should have had', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/fairness');
  const nordics = page.locator('.share-of', { hasText: 'Nordics' }).first();
  await expect(nordics).toContainText('given away');
  await expect(nordics).toContainText('Jorun Haldorsen');
  await choose(page, 'Whose', 'Jorun Haldorsen');
  await expect(page.getByText(/Jorun Haldorsen got \d+ of [\d.]+ leads/)).toBeVisible();
});
