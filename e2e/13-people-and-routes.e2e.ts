import { expect, test } from '@playwright/test';
import type { People } from '../packages/contracts/src/people';
import { apiOf, choose, pageOf, signIn } from './people';

test('an admin gives someone hours; outside them leads wait, and go once the hours are changed', async ({
  page,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const { people } = (await (await api.get('/api/people')).json()) as People;
  const isles = people.filter(({ teams, mayTakeLeads }) => teams.includes('isles') && mayTakeLeads);
  // Tomorrow is the only day on which they work.
  const day = (new Date().getUTCDay() + 1) % 7 || 7;
  const hours = { timeZone: 'UTC', weekly: [{ day, from: '00:00', to: '24:00' }] };
  for (const { key } of isles)
    await api.patch(`/api/people/${key}`, {
      headers,
      data: { mayTakeLeads: true, whyNot: null, limit: null, hours },
    });
  const values = {
    ...{ email: `hours-${Date.now()}@hours.example`, name: 'Waits Tonight', company: 'Hours Works' },
    ...{ country: 'United Kingdom', industry: 'Waterworks', employees: '620', deal_value: '60000 EUR', points: '40' },
    ...{ title: 'Plant operations', source: 'Referral', by_hand: 'yes', product: 'Buoy' },
  };
  const { id } = (await (await api.post('/api/leads', { headers, data: { values } })).json()) as { id: number };
  for (const kind of ['form_filled', 'call_taken'])
    await api.post(`/api/leads/${id}/activities`, { headers, data: { kind, at: new Date().toISOString() } });
  await signIn(page, 'admin');
  await page.goto(`/leads/${id}`);
  await expect(page.getByText(/does not work until/).first()).toBeVisible();

  await page.goto('/people');
  await page.getByRole('button', { name: 'Edit Rhona Ardmore' }).click();
  const editor = page.locator('rv-person-editor');
  const today = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'][new Date().getUTCDay()] ?? '';
  await editor.getByLabel(`Hours on ${today}`).fill('nine to five');
  await editor.getByLabel(`Hours on ${today}`).blur();
  await expect(editor.getByRole('alert')).toContainText('Hours are written');
  await editor.getByLabel(`Hours on ${today}`).fill('0-24');
  await editor.getByRole('button', { name: 'Save' }).click();
  await expect(page.locator('.people tr', { hasText: 'Rhona Ardmore' })).toContainText('now');
  await page.goto(`/leads/${id}`);
  await expect(page.getByText('Rhona Ardmore').first()).toBeVisible();
  for (const { key, limit } of isles)
    await api.patch(`/api/people/${key}`, {
      headers,
      data: { mayTakeLeads: true, whyNot: null, limit, hours: null },
    });
});

test('a rep says that they are away, and here again', async ({ browser }) => {
  const rep = await pageOf(browser, 'rep');
  await rep.getByRole('button', { name: 'I am away' }).click();
  await expect(rep.getByText('You are away: no leads come to you')).toBeVisible();
  await rep.getByRole('button', { name: 'I am here again' }).click();
  await expect(rep.getByText('You are here')).toBeVisible();
  await rep.context().close();
});

test('a route is given a method, skills and a way out in the draft; the next ten show who would get what, also on a Saturday night', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/routes');
  const next = page.locator('.next-ten tbody tr');
  await expect(next).toHaveCount(10);
  await page.getByRole('button', { name: 'Edit Britain and Ireland' }).click();
  await choose(page, 'Method of Britain and Ireland', 'weighted round robin');
  await page.getByRole('button', { name: '+ skill' }).click();
  await choose(page, 'When nobody is free, Britain and Ireland', 'go elsewhere');
  await page.getByRole('button', { name: 'Done' }).click();
  const route = page.locator('.route', { hasText: 'Britain and Ireland' });
  await expect(route.locator('.how')).toContainText('weighted round robin');
  await expect(route.locator('.how')).toContainText('nobody free: queue');
  // Nobody there has an industry.
  await expect(route.getByRole('note')).toContainText('could ever take a lead');

  await page.locator('.next-ten p-multiselect').click();
  await page.getByRole('option', { name: 'Maren Ytterbø' }).click();
  await page.keyboard.press('Escape');
  const toMaren = page.locator('.next-ten td b', { hasText: 'Maren Ytterbø' });
  await expect(page.getByRole('button', { name: 'Now again' })).toBeVisible();
  await expect(toMaren).toHaveCount(0);
  await page.getByRole('button', { name: 'Now again' }).click();
  await expect(page.getByRole('button', { name: 'Now again' })).toHaveCount(0);
  await expect(next).toHaveCount(10);
  const undo = page.getByRole('button', { name: 'Undo the last change' });
  // The button goes with the last change that it takes back.
  await expect(async () => {
    if (await undo.isVisible()) await undo.click({ timeout: 1000 });
    await expect(undo).toHaveCount(0, { timeout: 300 });
  }).toPass();
  await expect(route.locator('.how')).toHaveText('lightest load');
});
