import AxeBuilder from '@axe-core/playwright';
import { type APIRequestContext, expect, test } from '@playwright/test';
import { apiOf, letWait, signIn } from './people';

const PAGES = [
  '/',
  '/leads',
  '/leads/new',
  // Of one that is not there the page says so.
  '/leads/4000000000',
  '/contacts',
  '/companies',
  '/deals',
  '/leads?layout=columns',
  '/deals?layout=columns',
  '/tasks?whose=seen',
  '/companies/new',
  '/score',
  '/grade',
  '/gates',
  '/to-decide',
  '/territories',
  '/routes',
  '/people',
  '/intake',
  '/enact',
];

/** The pages of the first contact, company and deal of their lists. */
async function firstOf(api: APIRequestContext, paths: readonly string[]): Promise<string[]> {
  return Promise.all(
    paths.map(async (path) => {
      const { rows } = (await (await api.get(`/api${path}?size=1`)).json()) as { rows: { id: number }[] };
      return `${path}/${rows[0]?.id}`;
    }),
  );
}

test('a wrong password is said, and where one wanted to go is kept', async ({ page }) => {
  await page.goto('/leads?stage=qualified');
  await page.getByLabel('E-mail').fill('admin@ostervane.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('E-mail or password is not right');
  await page.getByRole('button', { name: /^Admin/ }).click();
  await expect(page).toHaveURL(/stage=qualified/);
});

test('an admin reaches every page, each fits, shows real content and passes the accessibility rules', async ({
  page,
}) => {
  test.setTimeout(300_000);
  const broken: string[] = [];
  page.on('pageerror', (error) => broken.push(error.message));
  await signIn(page, 'admin');
  const { rows } = (await (await page.request.get('/api/leads?size=1')).json()) as { rows: { id: number }[] };
  for (const path of [
    ...PAGES,
    `/leads/${rows[0]?.id}`,
    '/fields',
    '/find?text=brew',
    '/suggestions',
    ...(await firstOf(page.request, ['/contacts', '/companies', '/deals'])),
    '/unjudged',
    '/background',
    '/charters',
    '/tracer',
    '/form/sensing',
  ]) {
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 }), path).toBeVisible();
    await expect(page.getByText('Loading …')).toHaveCount(0);
    expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBeLessThanOrEqual(1280);
    // Only what breaks a rule is worked out in full; pages have no frames, for which a second page would be opened.
    const { violations } = await new AxeBuilder({ page })
      .setLegacyMode()
      .options({ resultTypes: ['violations'] })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
      .analyze();
    expect(violations.map((v) => `${path} ${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`)).toEqual(
      [],
    );
  }
  expect(broken).toEqual([]);
});

test('leads come in pages from the server, fewer than 60 rows at a time, and back again', async ({ page }) => {
  await signIn(page, 'admin');
  await page.getByRole('link', { name: 'Leads', exact: true }).click();
  const rows = page.locator('.leads tbody tr');
  await expect(rows).toHaveCount(50);
  const first = await rows.first().textContent();
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByText('51 to 100')).toBeVisible();
  await expect(rows).toHaveCount(50);
  expect(await rows.first().textContent()).not.toBe(first);
  await page.getByRole('button', { name: 'Back' }).click();
  await expect(rows.first()).toHaveText(first ?? '');
});

test('a rep sees own and team leads only, no page of the course, and no reasons about colleagues', async ({
  page,
  baseURL,
}) => {
  await signIn(page, 'rep');
  await expect(page.getByRole('heading', { name: /My leads/ })).toBeVisible();
  await expect(page.getByRole('navigation', { name: /Course/ })).toHaveCount(0);
  await page.goto('/score');
  await expect(page).not.toHaveURL(/score/);

  const admin = await apiOf(baseURL ?? '', 'admin');
  const { rows } = (await (await admin.api.get('/api/leads?owner=delia')).json()) as { rows: { id: number }[] };
  await page.goto(`/leads/${rows[0]?.id ?? 0}`);
  await expect(page.getByRole('alert')).toContainText('There is nothing here');
});

test('a manager sees the teams led, their bay, and hands on inside them', async ({ page, baseURL }) => {
  await letWait(baseURL ?? '', 'south', 'Spain');
  await signIn(page, 'manager-south');
  await expect(page.getByText(/waits? for someone free/).first()).toBeVisible();
  const { api } = await apiOf(baseURL ?? '', 'manager-south');
  const page1 = (await (await api.get('/api/leads?status=any&size=100')).json()) as {
    rows: { place: { kind: string; rep?: string } }[];
  };
  const owners = new Set(page1.rows.flatMap(({ place }) => (place.rep ? [place.rep] : [])));
  expect([...owners].filter((owner) => !['ines', 'alvaro', 'delia', 'harlan', 'tess'].includes(owner))).toEqual([]);
});

test.describe('on a telephone', () => {
  test.use({ viewport: { width: 390, height: 844 } });

  test('a rep’s pages fit: the list first, news below it, and nothing is cut', async ({ page }) => {
    await signIn(page, 'rep');
    const top = async (name: string): Promise<number> =>
      (await page.getByRole('heading', { name }).boundingBox())?.y ?? NaN;
    expect(await top('My leads')).toBeLessThan(await top('News'));
    const first = page.locator('table.list tbody tr').first();
    // Tasks that are due stand above the leads.
    expect((await page.locator('.task, table.list tbody tr').first().boundingBox())?.y).toBeLessThan(400);
    const lead = (await first.getByRole('link').first().getAttribute('href')) ?? '';
    for (const path of ['/', '/leads', lead, '/contacts', '/companies', '/deals', '/tasks', '/people']) {
      await page.goto(path);
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
      await expect(page.getByText('Loading …')).toHaveCount(0);
      // Nothing is wider than the screen, so nothing has to be pushed aside to be read.
      const wide = await page.evaluate<string[]>(`[...document.querySelectorAll('main *, header *')]
        .filter((one) => one.getBoundingClientRect().right > 391 && getComputedStyle(one).position !== 'absolute')
        .map((one) => one.tagName + ' ' + one.className + ' ' + one.textContent.trim().slice(0, 30))`);
      expect([path, wide.slice(0, 5)]).toEqual([path, []]);
    }
  });
});
