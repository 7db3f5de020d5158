import { expect, type Page, test } from '@playwright/test';
import type { RecordPage } from '../packages/contracts/src/record';
import { apiOf, choose, signIn } from './people';

const rows = (page: Page) => page.locator('.proposals tbody tr');
const waiting = async (page: Page): Promise<number> => Number(await page.locator('.brand .waiting').textContent());

test('proposals are decided by keyboard, several at once, refused with a reason, and taken back', async ({ page }) => {
  await signIn(page, 'admin');
  await page.getByRole('link', { name: /^To decide/ }).click();
  await expect(rows(page).first()).toBeVisible();
  const before = await waiting(page);
  expect(before).toBeGreaterThan(8);
  await expect(page.locator('.proposal-side')).toContainText('Changed since it asked');

  const second = await rows(page).nth(1).locator('b').textContent();
  await page.keyboard.press('j');
  await expect(page.locator('.proposal-side h2')).toContainText(second ?? '');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').first()).toContainText('1 proposal decided');
  await expect(page.locator('.brand .waiting')).toHaveText(String(before - 1));
  await page.keyboard.press('u');
  await expect(page.getByRole('status').first()).toContainText('1 proposal taken back');
  await expect(page.locator('.brand .waiting')).toHaveText(String(before));
  await expect(rows(page).nth(1).locator('b')).toHaveText(second ?? '');

  // Of one gate, so that their outcomes are the same.
  const visits = rows(page).filter({ hasText: 'Worth a visit?' });
  await visits.nth(0).getByRole('checkbox').check();
  await visits.nth(1).getByRole('checkbox').check();
  await page.getByRole('button', { name: /^Another outcome/ }).click();
  await page.locator('.decision-bar').getByRole('button', { name: 'Nurture' }).click();
  await expect(page.getByRole('status').first()).toContainText('2 proposals decided: Nurture');
  await page.getByRole('button', { name: /^Refuse/ }).click();
  await page.getByLabel('Why you refuse').fill('no visits before spring');
  await page.locator('.decision-bar form').getByRole('button', { name: 'Refuse' }).click();
  await expect(page.getByRole('status').first()).toContainText('1 proposal decided: refused');
  await expect(page.locator('.brand .waiting')).toHaveText(String(before - 3));
  await expect(page.locator('rv-concordance')).toContainText(/The same in \d+ of \d+/);
});

test('a rep decides what gates ask about own leads, moves one by hand with a reason, and is told why where it may not be', async ({
  page,
  baseURL,
}) => {
  const mark = Date.now();
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const values = {
    ...{ name: 'Asked About', email: `asked@visit-${mark}.example`, company: `Visit Works ${mark}`, country: 'NO' },
    ...{ industry: 'Brewery', employees: '120', deal_value: '42000 EUR', title: 'Plant operations', by_hand: 'yes' },
  };
  const { id } = (await (await api.post('/api/leads', { headers, data: { values, owner: 'rep' } })).json()) as {
    id: number;
  };
  for (let n = 0; n < 3; n += 1)
    await api.post(`/api/leads/${id}/activities`, { headers, data: { kind: 'call_taken' } });

  await signIn(page, 'rep');
  await page.goto('/to-decide');
  const mine = rows(page).filter({ hasText: `Visit Works ${mark}` });
  await expect(mine).toHaveCount(1);
  await mine.click();
  await page.locator('.outcome-choice').filter({ hasText: 'Site known' }).click();
  await expect(mine).toHaveCount(0);
  await page.goto(`/leads/${id}`);
  await expect(page.locator('.facts')).toContainText('Site known');
  await page.getByText('What gates asked').click();
  await expect(page.getByText(/moved it to Site known, as the rule said/)).toBeVisible();

  await choose(page, 'Stage to move to', 'Nurture');
  await page.getByLabel('Why it is moved').fill('the plant is being rebuilt');
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(page.locator('.facts')).toContainText('Nurture');
  await expect(page.locator('.history')).toContainText('Nurture: the plant is being rebuilt');

  // Of several, one that is somebody else's stays.
  const others = (await (await api.get('/api/leads?owner=delia&stage=qualified')).json()) as { rows: { id: number }[] };
  const other = others.rows[0]?.id ?? 0;
  const { api: own, headers: ownHeaders } = await apiOf(baseURL ?? '', 'rep');
  const moved = await own.post('/api/leads/move', {
    headers: ownHeaders,
    data: { ids: [id, other], stage: 'qualified', reason: 'rebuilt by now' },
  });
  expect(await moved.json()).toMatchObject({ done: [id], refused: [{ id: other }] });
});

test('an admin lets a gate ask a person, with a second outcome; the impact says about how many', async ({ page }) => {
  await signIn(page, 'admin');
  await page.goto('/gates');
  await expect(page.locator('tbody tr').filter({ hasText: 'Worth a visit?' }).first()).toContainText(
    /asks its owner[^]*\d for a person/,
  );
  await expect(page.locator('.effects')).toContainText('A person is asked about');
  await page.getByRole('button', { name: 'Edit Ripened' }).click();
  await choose(page, 'Who decides Ripened', 'a person, asked by the rule');
  await choose(page, 'Whom Ripened asks without an owner', 'Team isles');
  await page.getByRole('button', { name: '+ another outcome' }).click();
  await choose(page, 'Stage of outcome 2', 'Site known');
  await expect(page.getByText('saving …')).toHaveCount(0);
  const ripened = page.locator('tbody tr').filter({ hasText: 'Ripened' }).first();
  await expect(ripened).toContainText('or Site known');
  await expect(ripened).toContainText('asks its owner, else Team isles');
  await page.getByRole('button', { name: 'Take out outcome 2' }).click();
  await choose(page, 'Who decides Ripened', 'the rule');
  await expect(ripened).toContainText('by rule');
  // Proposals may be counted as accepted, and the gate's effects are edited beside it.
  await page.getByLabel('Count what gates ask as accepted').check();
  await expect(page.locator('.effects')).not.toContainText('A person is asked about');
  await page.getByLabel('Count what gates ask as accepted').uncheck();
  await page.getByRole('button', { name: '+ set a field' }).click();
  await choose(page, 'Field 1 that Ripened sets', 'Product interest');
  await choose(page, 'Product interest', 'Buoy');
  await expect(ripened).toContainText('then sets Product interest to Buoy, tags it Kept warm');
  await expect(page.getByText(/reads Product interest, which the gate “Ripened” changes/)).toBeVisible();
  await page.getByRole('button', { name: 'Do not set Product interest' }).click();
  await choose(page, 'Unit of the least time for Ripened', 'hours');
  await page.getByLabel('Least time in the stage for Ripened').fill('6');
  await page.getByLabel('Least time in the stage for Ripened').press('Enter');
  await expect(ripened).toContainText('at least 6 hours in the stage');
  await expect(page.getByText('saving …')).toHaveCount(0);
});

test('leads and deals stand in columns by stage, and are moved by drag and by keyboard', async ({ page, baseURL }) => {
  await signIn(page, 'admin');
  await page.goto('/leads?owner=lorenz');
  await page.getByRole('button', { name: 'By stage' }).click();
  const column = (name: string) => page.getByRole('region', { name, exact: true });
  const card = column('Qualified').locator('.stage-card').first();
  const name = (await card.getAttribute('aria-label')) ?? '';
  const [from, to] = [await card.boundingBox(), await column('Site known').boundingBox()];
  if (from === null || to === null) throw new Error('both are on the page');
  await page.mouse.move(from.x + 40, from.y + from.height - 10);
  await page.mouse.down();
  await page.mouse.move(to.x + 60, to.y + 80, { steps: 12 });
  await page.mouse.up();
  const reason = page.getByLabel('Why it is moved');
  await expect(reason.or(page.getByText(`${name} stands in Site known now.`))).toBeVisible();
  if (await reason.isVisible()) {
    await reason.fill('seen at a fair');
    await page.getByRole('button', { name: 'Move', exact: true }).click();
  }
  await expect(page.getByText(`${name} stands in Site known now.`)).toBeVisible();

  // In which stages the demo's deals stand differs with the time of day.
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const [company] = ((await (await api.get('/api/companies')).json()) as RecordPage).rows;
  const made = await api.post('/api/deals', { headers, data: { values: {}, company: company?.id } });
  expect(made.status()).toBe(201);
  await page.goto('/deals?layout=columns');
  const deal = column('In talks').locator('.stage-card').first();
  const called = (await deal.getAttribute('aria-label')) ?? '';
  await deal.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByText(`${called} stands in Site survey now.`)).toBeVisible();
});
