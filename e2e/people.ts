import { type APIRequestContext, type Browser, expect, type Page, request } from '@playwright/test';

export const PASSWORD = 'brackish harbour 7';

/** Signs in on the page as someone of the demo. */
export async function signIn(page: Page, key: string): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('E-mail').fill(`${key}@ostervane.example`);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
}

/** A page of its own for someone else. */
export async function pageOf(browser: Browser, key: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await signIn(page, key);
  return page;
}

/** The API as someone of the demo, with the token that changes need. */
export async function apiOf(
  baseURL: string,
  key: string,
): Promise<{ api: APIRequestContext; headers: Record<string, string> }> {
  const api = await request.newContext({ baseURL });
  await api.post('/api/session', { data: { email: `${key}@ostervane.example`, password: PASSWORD } });
  const { cookies } = await api.storageState();
  return { api, headers: { 'X-XSRF-TOKEN': cookies.find((cookie) => cookie.name === 'XSRF-TOKEN')?.value ?? '' } };
}

/** Chooses an option of a select, by its label. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).click();
  // On a slow machine the list takes a moment to come.
  await expect(page.getByRole('option').first()).toBeVisible();
  // The list's own search field: the page may have another one, and what is typed there narrows the list of leads.
  const search = page.locator('.p-select-overlay').getByRole('searchbox');
  if (await search.isVisible()) await search.fill(option);
  await page.getByRole('option', { name: option }).first().click();
  // The list takes a moment to go, and its search field must not be taken for the next one's.
  await expect(page.locator('.p-select-overlay')).toHaveCount(0);
}

/** Sees to it that some lead waits for someone of a team: all its people are full, and one more lead comes for them. */
export async function letWait(baseURL: string, team: string, country: string): Promise<void> {
  const { api, headers } = await apiOf(baseURL, 'admin');
  const { people } = (await (await api.get('/api/people')).json()) as {
    people: { key: string; open: number; mayTakeLeads: boolean; whyNot: string | null; teams: string[] }[];
  };
  for (const { key, open, mayTakeLeads, whyNot } of people.filter(({ teams }) => teams.includes(team)))
    await api.patch(`/api/people/${key}`, { headers, data: { mayTakeLeads, whyNot, limit: open } });
  const values = {
    email: `waits-${team}-${Date.now()}@wait.example`,
    name: 'Waits Long',
    company: 'Wait Works',
    ...{ country, industry: 'Waterworks', employees: '620', deal_value: '60000 EUR', points: '40' },
    ...{ title: 'Plant operations', source: 'Referral', by_hand: 'yes', product: 'Buoy' },
  };
  const { id } = (await (await api.post('/api/leads', { headers, data: { values } })).json()) as { id: number };
  for (const kind of ['form_filled', 'call_taken'])
    await api.post(`/api/leads/${id}/activities`, { headers, data: { kind, at: new Date().toISOString() } });
  const lead = (await (await api.get(`/api/leads/${id}`)).json()) as { place: { kind: string } };
  expect(lead.place.kind).toBe('bay');
}
