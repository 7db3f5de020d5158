import type { DataSource } from 'typeorm';
import { makeTask } from '../act/task/change-tasks';

const HOUR = 3_600_000;
const RESULTS = ['reached, will think about it', 'nobody there, left word', 'sent, with the drawing', 'agreed a day'];
const PLANS = [
  ['call', 'Ask about the flow rate'],
  ['mail', 'Send the drawing of the skid'],
  ['meeting', 'Walk the site with the foreman'],
  ['other', 'Check the delivery time of the sensors'],
] as const;
/** Deals and leads that have a task made by hand. */
const PLANNED = 28;

/** Does what was due by the end of a day, but for a few that stay overdue for some days. */
export async function doTasks({ manager }: DataSource, end: number): Promise<void> {
  const due = "t.state = 'open' AND t.due <= ? AND (t.id % 9 <> 0 OR t.due <= ?)";
  const at = [new Date(end), new Date(end - 9 * 24 * HOUR)];
  await manager.query(
    `INSERT INTO record_change (record, field, \`from\`, \`to\`, reason, at, cause, person, \`by\`)
     SELECT t.record, 'task', JSON_QUOTE(t.title), '"done"', ELT(1 + t.id % ${RESULTS.length}, ?), t.due, 'hand', p.\`key\`, p.name
     FROM task t JOIN person p ON p.\`key\` = t.owner WHERE ${due}`,
    [RESULTS, ...at],
  );
  await manager.query(
    `UPDATE task t JOIN person p ON p.\`key\` = t.owner SET t.state = 'done', t.result = ELT(1 + t.id % ${RESULTS.length}, ?),
     t.ended_at = t.due, t.ended_by = p.name, t.version = t.version + 1 WHERE ${due}`,
    [RESULTS, ...at],
  );
}

/** Operations looks after what nobody has. */
export async function lookAfterTasks(
  { manager }: DataSource,
  end: number,
  { name }: { readonly name: string },
): Promise<void> {
  await manager.query(
    `UPDATE task SET state = 'done', result = 'still waits for a territory', ended_at = due, ended_by = ?, version = version + 1
     WHERE state = 'open' AND owner IS NULL AND due <= ? AND id % 7 <> 0`,
    [name, new Date(end)],
  );
}

/** Makes tasks by hand for some open deals and leads: a few overdue, the others over the next days. */
export async function planTasks(source: DataSource, now: Date, names: ReadonlyMap<string, string>): Promise<void> {
  const rows = await source.query<{ id: number; owner: string }[]>(
    `(SELECT id, owner FROM deal WHERE status = 'open' AND owner IS NOT NULL ORDER BY rank_order DESC, id LIMIT ${PLANNED / 2})
     UNION ALL (SELECT id, owner FROM \`lead\` WHERE status = 'open' AND owner IS NOT NULL ORDER BY rank_order DESC, id LIMIT ${PLANNED / 2})`,
  );
  for (const [i, { id, owner }] of rows.entries()) {
    const [work, title] = PLANS[i % PLANS.length] ?? PLANS[0];
    const user = { key: owner, name: names.get(owner) ?? owner, role: 'rep' } as const;
    const midnight = Math.floor(now.getTime() / (24 * HOUR)) * 24 * HOUR;
    const due = midnight + (((i * 7) % 11) - 1) * 24 * HOUR + (8 + (i % 8)) * HOUR;
    await makeTask(source, { record: id, title, work, due }, { user, at: new Date(now.getTime() - HOUR) });
  }
}
