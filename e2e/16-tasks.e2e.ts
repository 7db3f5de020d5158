import { expect, test } from '@playwright/test';
import { apiOf, choose, pageOf, signIn } from './people';

test('a rep adds a task to a lead, puts it off, does it and plans the next; a manager sees what is overdue and gives it on', async ({
  browser,
  baseURL,
}) => {
  const { api, headers } = await apiOf(baseURL ?? '', 'admin');
  const email = `tasks-${Date.now()}@tasks.example`;
  const values = { email, name: 'Vera Tidemand', company: 'Tideworks', country: 'Norway', industry: 'Waterworks' };
  const made = await api.post('/api/leads', { headers, data: { values, owner: 'rep' } });
  const { id } = (await made.json()) as { id: number };

  const rep = await pageOf(browser, 'rep');
  await rep.goto(`/leads/${id}`);
  const toDo = rep.locator('rv-record-tasks');
  await toDo.getByRole('button', { name: '+ task' }).click();
  await toDo.getByRole('button', { name: 'Add the task' }).click();
  await expect(toDo.getByRole('alert')).toContainText('Say what is to be done');
  await toDo.getByLabel('What is to be done').fill('Ask for the flow rate');
  await toDo.getByRole('button', { name: 'in 1 h' }).click();
  await toDo.getByRole('button', { name: 'Add the task' }).click();
  await expect(toDo.locator('.task')).toContainText('Ask for the flow rate');
  await toDo.getByRole('button', { name: 'Put off Ask for the flow rate' }).click();
  await toDo.locator('.doing').getByRole('button', { name: 'tomorrow' }).click();
  await expect(toDo.locator('.task')).toContainText('tomorrow 09:00');

  await rep.goto('/tasks');
  const mine = rep.locator('.task', { hasText: 'Ask for the flow rate' });
  await mine.getByRole('button', { name: 'Done: Ask for the flow rate' }).click();
  await mine.getByLabel('Result of Ask for the flow rate').fill('wants 40 l/s');
  await mine.getByRole('button', { name: 'Done, and next …' }).click();
  await mine.getByLabel('What is to be done').fill('Send the offer for 40 l/s');
  await mine.getByRole('button', { name: 'in a week' }).click();
  await mine.getByRole('button', { name: 'Done, and add this' }).click();
  await expect(rep.locator('.task', { hasText: 'Send the offer for 40 l/s' })).toContainText('Vera Tidemand');
  await expect(mine).toHaveCount(0);
  await rep.getByRole('button', { name: 'Ended' }).click();
  await expect(rep.locator('.task', { hasText: 'Ask for the flow rate' })).toContainText('wants 40 l/s');
  await rep.goto(`/leads/${id}`);
  await expect(rep.locator('.history')).toContainText('Ask for the flow rate');
  await expect(rep.locator('.history')).toContainText('done: wants 40 l/s');

  // An overdue task is at the top of My leads, and the manager sees it.
  // Longer overdue than anything of the demo, so that it stands first.
  const due = Date.now() - 400 * 86_400_000;
  const late = { record: id, title: 'Ring before noon', work: 'call', due, owner: 'rep' };
  await api.post('/api/tasks', { headers, data: late });
  await rep.goto('/');
  await expect(rep.locator('rv-my-tasks')).toContainText('Ring before noon');
  const manager = await pageOf(browser, 'manager');
  await manager.getByRole('link', { name: /overdue/ }).click();
  const seen = manager.locator('.task', { hasText: 'Ring before noon' });
  await expect(seen).toContainText('Aksel Dahlstrøm');
  await seen.getByRole('button', { name: 'Give on Ring before noon' }).click();
  await choose(manager, 'Who gets Ring before noon', 'Maren Ytterbø');
  await expect(seen).toContainText('Maren Ytterbø');
  await rep.goto('/');
  await expect(rep.locator('rv-my-tasks')).not.toContainText('Ring before noon');

  // Closing it asks what becomes of them.
  await rep.goto(`/leads/${id}`);
  await rep.getByRole('button', { name: 'Close…' }).click();
  await expect(rep.getByText('its 2 open tasks stay open')).toBeVisible();
  await rep.getByLabel('How it ended').click();
  await rep.getByRole('option', { name: 'Lost' }).click();
  await rep.getByLabel('Reason').fill('went elsewhere');
  await rep.getByRole('button', { name: 'Close the lead' }).click();
  await expect(rep.locator('rv-record-tasks')).toContainText('3 tasks that ended');
  for (const page of [rep, manager]) await page.context().close();
});

test('in the draft a gate makes a task in working hours; what it comes to is told where it is enacted', async ({
  page,
}) => {
  await signIn(page, 'admin');
  await page.goto('/gates');
  await page.getByRole('button', { name: 'Edit Qualified at once' }).click();
  await page.getByRole('button', { name: '+ make a task' }).click();
  await page.getByLabel('Task 1 of Qualified at once', { exact: true }).fill('Ring within the hour');
  await page.getByRole('spinbutton', { name: 'Time for task 1 of Qualified at once' }).fill('90');
  await page.getByRole('spinbutton', { name: 'Time for task 1 of Qualified at once' }).blur();
  await choose(page, 'Unit of the time for task 1 of Qualified at once', 'working minutes');
  await expect(
    page.getByText('makes the call “Ring within the hour”, due in 90 working minutes').first(),
  ).toBeVisible();
  await page.goto('/enact');
  await expect(page.getByText('due in 90 working minutes').first()).toBeVisible();
  await choose(page, 'How far', 'and gates and routes');
  await expect(page.getByText('leave tasks out')).toBeVisible();
});
