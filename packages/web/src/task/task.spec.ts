import type { TaskPage, TaskRow } from '@relvik/contracts';
import { DateTime } from 'luxon';
import { PageTest, PEOPLE } from '../page.fixture';
import { dueGroup, dueWords } from './due-words';
import { RecordTasks } from './record-tasks';
import { TaskRules } from './task-rules';
import { TasksPage } from './tasks.page';

const HOUR = 3_600_000;
const at = (text: string): number => DateTime.fromISO(text).toMillis();

const row = (id: number, more: Partial<TaskRow> = {}): TaskRow => ({
  ...{ id, version: 2, title: `Task ${id}`, work: 'call', due: Date.now() + HOUR, owner: 'ada' as never },
  ...{ state: 'open', result: null, endedAt: null, endedBy: '', madeBy: 'Runa', rule: null, madeAt: 0 },
  ...{ record: { kind: 'deal', id: 40, name: 'Mill', beside: 'Millworks' }, may: true, ...more },
});
const page = (...rows: TaskRow[]): TaskPage => ({ rows, next: null, asOf: Date.now() });

test('when a task is due is told as people say it, by their own clock, and in groups', () => {
  const now = at('2026-12-01T14:00');
  expect(
    ['2026-12-01T15:20', '2026-12-02T09:00', '2026-11-30T09:00', '2026-12-04T09:00', '2027-01-04T09:00'].map((text) =>
      dueWords(at(text), now),
    ),
  ).toEqual([...['today 15:20', 'tomorrow 09:00', 'yesterday 09:00', 'Fri 4 Dec 09:00', 'Mon 4 Jan 2027 09:00']]);
  expect(
    ['2026-12-01T13:59', '2026-12-01T23:59', '2026-12-02T00:00', '2026-12-08T09:00', '2026-12-09T09:00'].map((text) =>
      dueGroup(at(text), now),
    ),
  ).toEqual([...['overdue', 'today', 'tomorrow', 'week', 'later']]);
});

test('tasks stand in the order in which they are due, overdue ones first; one is done with a result, and the next follows', async () => {
  const tasks = await PageTest.open(TasksPage);
  await tasks.answer('/api/people', PEOPLE);
  await tasks.answer(
    '/api/tasks',
    page(row(1, { due: Date.now() - HOUR, title: 'Ring back' }), row(2, { due: Date.now() + 40 * 24 * HOUR })),
  );
  expect([...tasks.element.querySelectorAll('h2')].map((one) => one.textContent.trim())).toEqual([
    'Overdue 1',
    'Later 1',
  ]);
  expect(tasks.text).toContain('Mill');
  await tasks.click('Done: Ring back');
  await tasks.type('input[name=result]', 'will think about it');
  await tasks.click('Done, and next …');
  await tasks.click('Done, and add this');
  // Nothing is sent before it says what, and by when.
  expect(tasks.text).toContain('Say what is to be done');
  await tasks.type('input[name=title]', 'Ask again');
  await tasks.click('in a week');
  await tasks.click('Done, and add this');
  const { body, answer } = tasks.sent('/api/tasks/1/end', 'POST');
  expect(body).toMatchObject({
    ...{ version: 2, as: 'done', result: 'will think about it', next: { title: 'Ask again', work: 'call' } },
  });
  await answer({ next: 3 });
  await tasks.answer('/api/tasks', page(row(2)));
  expect(tasks.text).not.toContain('Ring back');
});

test('on the page of a record one adds a task, puts it off and gives it on; who may not change it sees it only', async () => {
  const record = await PageTest.open(RecordTasks, { record: 40, version: 1 });
  await record.answer('/api/people', PEOPLE);
  await record.answer('/api/tasks', page());
  expect(record.text).toContain('Nothing is to be done.');
  await record.click('+ task');
  await record.type('input[name=title]', 'Send the plan');
  await record.click('tomorrow');
  await record.click('Add the task');
  const made = record.sent('/api/tasks', 'POST');
  expect(made.body).toMatchObject({ record: 40, title: 'Send the plan', work: 'call' });
  await made.answer({ id: 5 });
  await record.answer(
    '/api/tasks',
    page(row(5, { title: 'Send the plan' }), row(6, { title: 'Not mine', may: false })),
  );
  await record.click('Put off Send the plan');
  await record.click('in 1 h');
  const put = record.sent('/api/tasks/5', 'PATCH');
  expect(put.body).toMatchObject({ version: 2, due: expect.any(Number) as number });
  await put.answer({ status: 409, title: 'Someone changed this task meanwhile' }, 409);
  expect(record.text).toContain('Someone changed this task meanwhile');
  await record.answer(
    '/api/tasks',
    page(row(5, { title: 'Send the plan', version: 3 }), row(6, { title: 'Not mine', may: false })),
  );
  await record.click('Give on Send the plan');
  await record.choose('Who gets Send the plan', 'cai');
  expect(record.sent('/api/tasks/5', 'PATCH').body).toEqual({ version: 3, owner: 'cai' });
  expect(() => record.button('Done: Not mine')).toThrow();
});

test('the time of a task that a rule makes is typed in working hours or another unit, whose number stays', async () => {
  const tasks = [{ title: 'Ring them', work: 'call', minutes: 240, working: true }];
  const rules = await PageTest.open(TaskRules, { tasks, of: 'Qualify', lead: 'and makes the' });
  const changed: unknown[] = [];
  rules.component.instance.changed.subscribe((next) => changed.push(next));
  expect((rules.find('.task-time') as HTMLInputElement).value).toBe('4');
  await rules.choose('Unit of the time for task 1 of Qualify', 'days');
  await rules.choose('Unit of the time for task 1 of Qualify', 'working-minutes');
  await rules.click('Make no task 1 by Qualify');
  expect(changed).toEqual([
    [{ ...tasks[0], minutes: 4 * 1440, working: false }],
    [{ ...tasks[0], minutes: 4, working: true }],
    [],
  ]);
});
