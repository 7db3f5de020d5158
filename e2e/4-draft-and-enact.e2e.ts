import { expect, type Page, test } from '@playwright/test';
import { apiOf, choose, signIn } from './people';

async function scoreOf(page: Page, id: number): Promise<string> {
  await page.goto(`/leads/${id}`);
  await page.getByRole('button', { name: 'Now', exact: true }).click();
  return (await page.locator('.reason h3', { hasText: 'Fit' }).first().textContent()) ?? '';
}

test('points, cuts, order and targets are drawn in a draft, act only once enacted, and all leads are scored anew', async ({
  page,
  baseURL,
}) => {
  // The longest walk of all, and a rescore of the whole demo world in it.
  test.slow();
  const admin = await apiOf(baseURL ?? '', 'admin');
  const values = {
    name: 'Utkast Brygg',
    email: 'utkast@brygg.example',
    industry: 'Brewery',
    country: 'DE',
    employees: '60',
  };
  const { id } = (await (await admin.api.post('/api/leads', { headers: admin.headers, data: { values } })).json()) as {
    id: number;
  };
  await signIn(page, 'admin');
  // 20 industry + 16 size − 4 no product.
  expect(await scoreOf(page, id)).toContain('36 − 4 = 32');

  await page.goto('/score');
  const points = page.getByLabel('Points for Industry that knows its water');
  await points.fill('60');
  await points.press('Enter');
  await expect(page.locator('tr', { hasText: 'Industry that knows its water' }).locator('s')).toHaveText('+20');

  await page.getByRole('link', { name: /^Grade/ }).click();
  const cut = page.getByLabel('Fit cut between C and B');
  await cut.fill('10');
  await cut.press('Enter');
  await expect(page.getByRole('alert')).toContainText('must be above the cut before it');
  await cut.fill('45');
  await cut.press('Enter');
  await expect(page.getByRole('alert')).toHaveCount(0);

  await page.getByRole('link', { name: /^Routes/ }).click();
  const iberia = page.locator('.route', { hasText: 'Iberia' });
  await expect(iberia.locator('.order')).toHaveText('11');
  await page.getByRole('button', { name: 'Move Iberia up' }).click();
  await expect(page.locator('.route', { hasText: 'Iberia' }).locator('.order')).toHaveText('10');
  await choose(page, 'Where Iberia leads', 'Team isles');
  await expect(page.locator('.route', { hasText: 'Iberia' }).locator('s')).toHaveText('Team south');

  expect(await scoreOf(page, id)).toContain('36 − 4 = 32');

  await page.getByRole('link', { name: 'Enact…' }).click();
  await expect(page.locator('.changes')).toContainText('Points for “Industry that knows its water” +20 → +60');
  await expect(page.locator('.changes')).toContainText(
    'Route “Iberia” leads to Team south, round robin → Team isles, round robin',
  );
  // Leads that meet a gate already stay, unless they are let through.
  const meeting = page.locator('.meeting');
  await expect(meeting).toContainText(
    /leads? meets? a gate\s+already\.\s+(It|They) moves? when something next happens/,
  );
  await meeting.getByRole('button', { name: 'See which' }).click();
  await expect(meeting.getByRole('link').first()).toBeVisible();
  await meeting.getByRole('button', { name: 'Let them through now' }).click();
  await expect(meeting).toContainText(/a gate\s+already\s+and\s+moves? now/);
  await choose(page, 'How far', 'score and grade');
  await page.getByRole('button', { name: /^Enact Brewery push/ }).click();
  await expect(page.getByRole('alert')).toContainText('Say why this comes into force');
  await page.getByLabel('Why now').fill('Breweries buy');
  await page.getByRole('button', { name: /^Enact Brewery push/ }).click();
  await expect(page.getByText(/leads were rescored; [\d,]+ changed their grade/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('In force 2 · Brewery push')).toBeVisible();
  await expect(page.getByText('No draft.')).toBeVisible();

  expect(await scoreOf(page, id)).toContain('76 − 4 = 72');
  await page.getByRole('button', { name: 'Then', exact: true }).click();
  await expect(page.locator('rv-reasoning')).toContainText('As decided when the charter came into force');
  await expect(page.locator('rv-reasoning')).toContainText('by charter 2 · Brewery push');
});

test('a new draft begins as a copy; two admins on it do not overwrite each other silently', async ({
  page,
  baseURL,
}) => {
  await signIn(page, 'admin');
  await page.getByRole('button', { name: 'New draft' }).click();
  await page.getByLabel('Name of the draft').fill('Autumn');
  await page.getByRole('button', { name: 'Create', exact: true }).click();
  await expect(page.getByText('Draft Autumn')).toBeVisible();
  await page.getByRole('link', { name: /^Score/ }).click();
  await expect(page.getByText('You are drawing in the draft')).toBeVisible();

  const other = await apiOf(baseURL ?? '', 'admin');
  const { draft } = (await (await other.api.get('/api/charters')).json()) as {
    draft: { id: number; version: number; charter: object };
  };
  const save = await other.api.put(`/api/drafts/${draft.id}`, {
    headers: other.headers,
    data: { version: draft.version, charter: draft.charter },
  });
  expect(save.status()).toBe(200);
  const points = page.getByLabel('Points for Mail clicked');
  await points.fill('9');
  await points.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Someone changed this draft meanwhile');

  await page.getByRole('link', { name: 'Enact…' }).click();
  await page.getByRole('button', { name: 'Discard the draft' }).click();
  await expect(page.getByText('There is no draft open to enact')).toBeVisible();
});

test('every lead of the demo world has exactly one place, and loads are what they own', async ({ baseURL }) => {
  const { api } = await apiOf(baseURL ?? '', 'admin');
  const owned = new Map<string, number>();
  let after: string | null = '';
  while (after !== null) {
    const answer = (await (
      await api.get(`/api/leads?status=open&size=100${after ? `&after=${after}` : ''}`)
    ).json()) as { rows: { place: { kind: string; rep?: string } }[]; next: string | null };
    for (const { place } of answer.rows) {
      expect(['owner', 'queue', 'bay', 'not-handed-over']).toContain(place.kind);
      if (place.rep) owned.set(place.rep, (owned.get(place.rep) ?? 0) + 1);
    }
    after = answer.next;
  }
  const { people } = (await (await api.get('/api/people')).json()) as { people: { key: string; open: number }[] };
  for (const { key, open } of people) expect([key, open]).toEqual([key, owned.get(key) ?? 0]);
});
