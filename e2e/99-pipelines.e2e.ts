import { expect, test } from '@playwright/test';
import { apiOf, choose, signIn } from './people';

test('a lead comes into the second pipeline by hand; the pipelines are drawn, and in a draft a stage is added, dragged and retired', async ({
  page,
  baseURL,
}) => {
  test.slow();
  await signIn(page, 'admin');
  await page.goto('/leads/new');
  await choose(page, 'Pipeline', 'Care plans');
  await page.getByLabel('E-mail').fill('asks@second-pipeline.example');
  await page.getByRole('button', { name: 'Add the lead' }).click();
  await expect(page.getByRole('heading', { name: 'Reasoning' })).toBeVisible();
  // Nothing is known of it that would fit: the gate of that pipeline declines it at once.
  await expect(page.locator('.facts')).toContainText('No plan wanted');

  await page.goto('/gates');
  const stages = page.locator('g.stage .name');
  await expect(stages).toHaveText(['New', 'Qualified', 'Site known', 'Nurture', 'Disqualified']);
  await page.getByRole('button', { name: 'Care plans leads' }).click();
  await expect(page.getByRole('button', { name: /^Stage Asked, / })).toBeVisible();
  await expect(page.locator('g.end')).toHaveText(['Sensing networks: Nurture']);

  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  await api.post('/api/drafts', { headers, data: { name: 'Redrawn' } });
  await page.reload();
  await page.getByRole('button', { name: 'Care plans leads' }).click();
  await page.getByRole('button', { name: '+ stage' }).click();
  await page.getByLabel('Name of the stage').fill('Offered');
  await page.getByLabel('Name of the stage').blur();
  await expect(stages).toHaveText([
    'Asked',
    'Plan fits',
    'Yearly plan',
    'Probe trial',
    'Offered',
    'Rests till spring',
    'No plan wanted',
  ]);

  // Dragged before the stage that it stood behind.
  const boxOf = async (name: RegExp) => {
    // Until the draft is saved the drawing may be made anew at any time.
    await expect(page.getByText('saving …')).toHaveCount(0);
    await expect.poll(() => page.getByRole('button', { name }).boundingBox()).not.toBeNull();
    return (await page.getByRole('button', { name }).boundingBox()) ?? { x: 0, y: 0 };
  };
  const [box, target] = [await boxOf(/^Stage Offered/), await boxOf(/^Stage Plan fits/)];
  await page.mouse.move(box.x + 60, box.y + 30);
  await page.mouse.down();
  await page.mouse.move(target.x + 20, box.y + 32, { steps: 8 });
  await page.mouse.up();
  await expect(stages.nth(1)).toHaveText('Offered');
  await page.getByRole('button', { name: 'Move Offered right' }).press('Enter');
  await expect(stages.nth(2)).toHaveText('Offered');

  // Retired: the gates that named it lead on to what takes it over.
  await page.getByRole('button', { name: /^Stage Plan fits/ }).press('Enter');
  await choose(page, 'Stage that takes it over', 'Offered');
  await expect(page.getByText(/These name the other in its place: .*gate A plan fits/)).toBeVisible();
  await page.getByRole('button', { name: 'Merge Plan fits' }).click();
  await expect(stages).toHaveText([
    'Asked',
    'Offered',
    'Yearly plan',
    'Probe trial',
    'Rests till spring',
    'No plan wanted',
  ]);
  await expect(page.locator('tbody tr').filter({ hasText: 'A plan fits' })).toContainText('Asked → Offered');
  await expect(page.getByText('saving …')).toHaveCount(0);

  // A gate from the drawing opens below; on enact all that stood in the old stage stands in the new one.
  await page.getByRole('button', { name: 'Gate A plan fits' }).click();
  await expect(page.getByLabel('Name of the gate')).toHaveValue('A plan fits');
  const leads = async (stage: string): Promise<number> => {
    const answer = await api.get('/api/lead-count', { params: { stage, status: 'any' } });
    return ((await answer.json()) as { count: number }).count;
  };
  const there = await leads('care-fits');
  expect(there).toBeGreaterThan(0);
  const { draft } = (await (await api.get('/api/charters')).json()) as {
    draft: { id: number; version: number; charter: { pipelines: { stages: { key: string; name: string }[] }[] } };
  };
  const offered = draft.charter.pipelines.flatMap((one) => one.stages).find(({ name }) => name === 'Offered');
  const enacted = await api.post(`/api/drafts/${draft.id}/enact`, {
    headers,
    data: { version: draft.version, reason: 'fewer stages', scope: { which: 'new' } },
  });
  expect(enacted.status()).toBe(202);
  expect([await leads('care-fits'), await leads(offered?.key ?? '')]).toEqual([0, there]);
  await page.reload();
  await page.getByRole('button', { name: 'Care plans leads' }).click();
  await expect(page.getByRole('button', { name: /^Stage Offered/ })).toBeVisible();
});

test('an admin says into which pipeline the leads of a form come', async ({ page, baseURL }) => {
  await signIn(page, 'admin');
  await page.goto('/intake');
  await choose(page, 'Pipeline of Ask Ostervane about your water', 'Care plans');
  const { api } = await apiOf(baseURL ?? '', 'admin');
  const pipeline = async (): Promise<string | null> => {
    const { forms } = (await (await api.get('/api/intake')).json()) as { forms: { pipeline: string | null }[] };
    return forms[0]?.pipeline ?? null;
  };
  await expect.poll(pipeline).toBe('care');
  await page.reload();
  await expect(page.getByRole('combobox', { name: 'Pipeline of Ask Ostervane about your water' })).toBeVisible();
  await expect(page.locator('rv-way-in-pipeline').first()).toContainText('Care plans');
});
