import { expect, test } from '@playwright/test';
import { apiOf, pageOf, signIn } from './people';

test('a lead waits for the night; a run now is previewed, gives it away, and the reasoning says so', async ({
  page,
  browser,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  // However many leads the demo left them with, they may take one more.
  await api.patch('/api/people/tess', { headers, data: { mayTakeLeads: true, whyNot: null, limit: null } });
  const values = { name: 'Nattan Väntar', email: `night-${Date.now()}@night.example` };
  const sent = { values, pipeline: 'care', handling: 'score' };
  const { id } = (await (await api.post('/api/leads', { headers, data: sent })).json()) as { id: number };
  await signIn(page, 'admin');
  await page.goto(`/leads/${id}`);
  await expect(page.getByText('It was scored and graded only: gates and routes were not asked.')).toBeVisible();
  const move = { ids: [id], stage: 'care-fits', reason: 'a plan fits' };
  expect(await (await api.post('/api/leads/move', { headers, data: move })).json()).toMatchObject({ done: [id] });
  await page.reload();
  await expect(page.locator('.facts')).toContainText('Bay: goes when its stream runs');

  await page.goto('/routes');
  const run = page.locator('.stream-run', { hasText: 'Care plans by night' });
  await expect(run).toContainText(/runs next \w{3} \d/);
  await run.getByRole('button', { name: 'Run Care plans by night now' }).click();
  await expect(run).toContainText(/lead(s)? would go through it: .*\d/);
  await run.getByRole('button', { name: 'Run it' }).click();
  await expect(run).toContainText(/last run .*by Runa Vestmar: \d+ of \d+ leads given away/, { timeout: 20_000 });

  await page.goto(`/leads/${id}`);
  await expect(page.getByText('As decided when its stream ran')).toBeVisible();
  const given = (await (await api.get(`/api/leads/${id}`)).json()) as { place: { kind: string; rep: string } };
  expect(given.place.kind).toBe('owner');

  // Its stream asks owners to accept: this one gives it back, and it goes on without them.
  const owner = await pageOf(browser, given.place.rep);
  await owner.getByRole('link', { name: /for you to accept or give back/ }).click();
  // The news beside may name it as well.
  await owner.getByRole('link', { name: 'Nattan Väntar', exact: true }).click();
  await expect(owner.getByRole('button', { name: 'Accept' })).toBeVisible();
  await owner.getByRole('button', { name: 'Give back…' }).click();
  await owner.getByLabel('Why it goes back').fill('Knows the other one');
  await owner.getByRole('button', { name: 'Give it back' }).click();
  await expect
    .poll(async () => (await (await api.get(`/api/leads/${id}`)).json()) as object)
    .not.toMatchObject({
      place: given.place,
    });
  await owner.context().close();
  await page.reload();
  await expect(page.locator('.history')).toContainText('Knows the other one');
});

test('a stream is made in the draft, with a schedule, and taken out again', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/routes');
  await page.getByRole('button', { name: /^\+ stream/ }).click();
  await page.getByLabel('Name of the stream').fill('Mondays');
  await page.getByLabel('Name of the stream').press('Enter');
  await page.getByRole('combobox', { name: 'When Mondays runs' }).click();
  await page.getByRole('option', { name: 'once a week' }).click();
  const time = page.getByLabel('Time at which Mondays runs');
  await time.fill('half past six');
  await time.press('Enter');
  await expect(page.getByText('A time of day is written 02:00')).toBeVisible();
  await time.fill('06:30');
  await time.press('Enter');
  await page.getByLabel(/gives away only then/).check();
  await expect(page.getByText('Runs on Mondays at 06:30, and gives away only then.')).toBeVisible();
  await page.getByRole('button', { name: 'Take the stream out' }).click();
  await expect(page.getByText('Runs on Mondays at 06:30')).toHaveCount(0);
});
