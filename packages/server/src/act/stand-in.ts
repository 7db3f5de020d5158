import { isOff, type Organisation, type QueueKey, type Rep, type RepKey } from '@relvik/core';
import { type DataSource, IsNull, Not } from 'typeorm';
import { eachAlone, notFailing } from '../store/failures';
import type { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { readOrganisation } from '../store/organisation';
import { type Act, moved } from './act';
import { act } from './acting';
import { RELVIK } from './cause';
import { perform } from './perform';

const WORK = 'deputies';
const BATCH = 100;

/**
 * Lets deputies take over the open leads and tasks of those who are off, and gives them back to those who are here again. A deputy who is
 * off too, or takes no leads, takes nothing over. A limit does not bind a deputy.
 *
 * @returns how many leads changed hands
 */
export async function standIn(source: DataSource, now: Date): Promise<number> {
  const { manager } = source;
  const people = await readOrganisation(manager);
  const at = now.getTime();
  const isHere = (key: string | null): boolean => {
    const rep = key === null ? undefined : people.reps.get(key as RepKey);
    return rep?.mayTakeLeads === true && !isOff(rep, people, at);
  };
  let done = 0;
  for (const { key, deputy, getsBack } of await manager.findBy(PersonEntity, {
    retired: false,
    deputy: Not(IsNull()),
  })) {
    const rep = people.reps.get(key as RepKey);
    if (rep === undefined || deputy === null || !isOff(rep, people, at) || !isHere(deputy)) continue;
    const to = nameOf(people, deputy);
    done += await handOver(source, now, ['owner', key], (lead) =>
      moved(
        lead,
        {
          ...placeWith(deputy, lead.entity),
          deputyFor: (lead.entity.deputyFor ?? (getsBack ? key : null)) as RepKey | null,
          reason: `${rep.name} is away: ${to} stands in`,
        },
        RELVIK,
        now,
      ),
    );
    await handTasksOver(source, key, deputy, getsBack ? key : null);
  }
  for (const key of await stoodInFor(source)) {
    const rep: Rep | undefined = people.reps.get(key as RepKey);
    if (rep === undefined || isOff(rep, people, at)) continue;
    done += await handOver(source, now, ['deputyFor', key], (lead) =>
      moved(lead, { ...placeWith(key, lead.entity), reason: `${rep.name} is here again` }, RELVIK, now),
    );
    await source.query(
      "UPDATE task SET owner = ?, deputy_for = NULL, version = version + 1 WHERE deputy_for = ? AND state = 'open'",
      [key, key],
    );
    await source.manager.update(TaskEntity, { deputyFor: key }, { deputyFor: null });
  }
  return done;
}

/** Gives on the open tasks that did not come along with a lead. */
async function handTasksOver(source: DataSource, from: string, to: string, back: string | null): Promise<void> {
  await source.query(
    "UPDATE task SET owner = ?, deputy_for = COALESCE(deputy_for, ?), version = version + 1 WHERE owner = ? AND state = 'open'",
    [to, back, from],
  );
}

function nameOf(people: Organisation, key: string): string {
  return people.reps.get(key as RepKey)?.name ?? key;
}

/** With whom a lead is; the queue it was picked up from stays known. */
function placeWith(key: string, { pickedFrom }: LeadEntity) {
  const rep = key as RepKey;
  return {
    place: { kind: 'owner', rep },
    from: pickedFrom as QueueKey | null,
    effects: [{ kind: 'tell-owner', rep }],
  } as const;
}

async function stoodInFor({ manager }: DataSource): Promise<string[]> {
  const rows = await manager.query<{ key: string }[]>(
    `SELECT DISTINCT deputy_for AS \`key\` FROM \`lead\` WHERE deputy_for IS NOT NULL AND status = 'open'
     UNION SELECT deputy_for FROM task WHERE deputy_for IS NOT NULL`,
  );
  return rows.map(({ key }) => key);
}

/** Gives on the open leads that someone owns, or for whom a deputy stands in; each once, whichever server comes first. */
async function handOver(
  source: DataSource,
  now: Date,
  [column, key]: readonly ['owner' | 'deputyFor', string],
  to: (lead: StoredLead) => Act,
): Promise<number> {
  let done = 0;
  let after = 0;
  for (;;) {
    const some = await source.query<{ id: number }[]>(
      `SELECT id FROM \`lead\` WHERE ${column === 'owner' ? 'owner' : 'deputy_for'} = ? AND status = 'open' AND id > ?
       AND ${notFailing('`lead`.id')} ORDER BY id LIMIT ${BATCH}`,
      [key, after, WORK, now],
    );
    const ids = some.map(({ id }) => id);
    await eachAlone(source, WORK, ids, now, async (tried) => {
      done += await act(source, now, async (acting) => {
        const leads = (await loadLeads(acting.manager, tried, 'write')).filter(
          ({ entity }) => entity.status === 'open' && entity[column] === key,
        );
        await perform(acting, leads.map(to));
        return leads.length;
      });
    });
    const last = ids.at(-1);
    if (last === undefined || ids.length < BATCH) return done;
    after = last;
  }
}
