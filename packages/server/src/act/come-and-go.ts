import type { Given, MakePerson, RetirePerson } from '@relvik/contracts';
import { fold, UNROUTED_KINDS } from '@relvik/core';
import { randomBytes } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { LeadEntity } from '../store/entity/lead.entity';
import {
  PersonEntity,
  QueueMemberEntity,
  SessionEntity,
  TeamEntity,
  TeamMemberEntity,
} from '../store/entity/people.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { isDuplicate } from '../store/transaction';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { handOf } from './cause';
import { charterNaming } from './change-queues';
import { giveLeads } from './give-leads';
import type { Hand } from './hand';
import { giveOwner } from './own-record';

/** Leads and other records of someone who goes are given away in batches of so many. */
const BATCH = 200;
/** A hash that no password has: a new person can't sign in before a password is set. */
const NO_PASSWORD = 'none';

/** A key that nothing had yet: it is never used again. */
function newKey(kind: string): string {
  return `${kind}-${randomBytes(6).toString('hex')}`;
}

/**
 * Makes a person. A rep may take leads at once, at the end of the turns of their team.
 *
 * @throws Refused for an e-mail that someone has, or a team that is none
 */
export async function makePerson(source: DataSource, { name, email, role, team }: MakePerson): Promise<void> {
  const key = newKey(role);
  const takesLeads = role === 'rep';
  await source.transaction(async (manager) => {
    if (team !== null && !(await manager.existsBy(TeamEntity, { key: team })))
      throw Refused.invalid([{ path: '/team', message: 'is no team' }]);
    try {
      await manager.insert(PersonEntity, {
        ...{ key, name, email: fold(email), role, password: NO_PASSWORD },
        ...{ mayTakeLeads: takesLeads, whyNot: null, takes: null, retired: false, weight: 100, away: false },
      });
    } catch (error) {
      if (!isDuplicate(error, 'person_by_email')) throw error;
      throw Refused.invalid([{ path: '/email', message: 'belongs to someone already, perhaps someone retired' }]);
    }
    if (team !== null) await joinTeam(manager, team, key, role === 'manager');
  });
}

async function joinTeam(manager: EntityManager, team: string, person: string, leads: boolean): Promise<void> {
  const last = await manager.maximum(TeamMemberEntity, 'joined', { team });
  await manager.insert(TeamMemberEntity, { team, person, joined: (last ?? -1) + 1, leads });
}

/**
 * Retires someone: they take no leads any more, their open leads are given away as said, their deals, contacts and companies to
 * an heir, as their other tasks, then they leave teams and queues and are signed out. What they closed and did stays theirs. Turns go on without them.
 *
 * @returns what became of the leads; where some stay, nobody is retired, and those that were given stay given
 * @throws Refused for whom a charter names, and for oneself
 */
export async function retirePerson(
  source: DataSource,
  key: string,
  { leads, heir }: RetirePerson,
  hand: Hand,
): Promise<Given> {
  const { manager } = source;
  const person = await manager.findOneBy(PersonEntity, { key, retired: false });
  if (person === null) throw Refused.notFound();
  if (key === hand.user.key) throw Refused.invalid([{ path: '/key', message: 'is yourself' }]);
  if (leads.to === 'rep' && leads.key === key)
    throw Refused.invalid([{ path: '/leads/key', message: 'is whom you retire' }]);
  const by = await charterNaming(manager, 'rep', key);
  if (by !== null) throw Refused.invalid([{ path: '/key', message: `is named by ${by}: change it there first` }]);
  const heirs = heir === null ? null : await manager.findOneBy(PersonEntity, { key: heir, retired: false });
  if (heir === key || (heir !== null && heirs === null))
    throw Refused.invalid([{ path: '/heir', message: 'is nobody here' }]);

  // From now on no route gives them any.
  await manager.update(PersonEntity, { key }, { mayTakeLeads: false, whyNot: 'goes' });
  const given = await giveAll(source, key, leads, hand);
  if (given.refused.length > 0) return given;
  await handRecords(source, key, heir, hand);
  await source.transaction(async (inside) => {
    await inside.update(PersonEntity, { key }, { retired: true });
    await inside.update(PersonEntity, { deputy: key }, { deputy: null });
    // Whoever stands in for them keeps what they have.
    await inside.update(LeadEntity, { deputyFor: key }, { deputyFor: null });
    // Tasks on records of others go to the heir, else to whoever owns the record.
    await inside.query(
      `UPDATE task t LEFT JOIN \`lead\` l ON l.id = t.record LEFT JOIN deal d ON d.id = t.record
       LEFT JOIN contact c ON c.id = t.record LEFT JOIN company f ON f.id = t.record
       SET t.owner = COALESCE(?, NULLIF(COALESCE(l.owner, d.owner, c.owner, f.owner), ?)), t.version = t.version + 1
       WHERE t.owner = ? AND t.state = 'open'`,
      [heir, key, key],
    );
    await inside.update(TaskEntity, { deputyFor: key }, { deputyFor: null });
    await inside.delete(TeamMemberEntity, { person: key });
    await inside.delete(QueueMemberEntity, { person: key });
    await inside.delete(SessionEntity, { person: key });
  });
  return given;
}

async function giveAll(source: DataSource, owner: string, leads: RetirePerson['leads'], hand: Hand): Promise<Given> {
  let all: Given = { done: [], refused: [], places: [] };
  for (;;) {
    const tried = new Set(all.refused.map(({ id }) => id));
    const open = await source.manager.find(LeadEntity, {
      select: { id: true },
      where: { owner, status: 'open' },
      order: { id: 'ASC' },
      take: BATCH + tried.size,
    });
    const ids = open.map(({ id }) => id).filter((id) => !tried.has(id));
    if (ids.length === 0) return all;
    const given = await giveLeads(source, { ids, ...leads }, hand);
    all = {
      done: [...all.done, ...given.done],
      refused: [...all.refused, ...given.refused],
      places: [...all.places, ...given.places],
    };
  }
}

/** Gives open deals, contacts and companies to someone else, or to nobody. */
async function handRecords(source: DataSource, owner: string, heir: string | null, hand: Hand): Promise<void> {
  for (const kind of UNROUTED_KINDS) {
    const where = kind === 'deal' ? { owner, status: 'open' as const } : { owner };
    for (;;) {
      const moved = await source.transaction(async (manager) => {
        const some = await manager.find(UNROUTED_ENTITIES[kind], {
          where,
          order: { id: 'ASC' },
          take: BATCH,
          lock: { mode: 'pessimistic_write' },
        });
        for (const one of some) await giveOwner(manager, kind, one, heir, { cause: handOf(hand.user), at: hand.at });
        return some.length;
      });
      if (moved === 0) break;
    }
  }
}

/** Makes a team without members. */
export async function makeTeam(source: DataSource, name: string): Promise<void> {
  await source.manager.insert(TeamEntity, { key: newKey('team'), name, parent: null, paused: false, hours: null });
}

/** Takes a team out. One that has teams inside it stays, one for which leads wait, and one that a charter names. */
export async function removeTeam(source: DataSource, key: string): Promise<void> {
  await source.transaction(async (manager) => {
    const refuse = (message: string): Refused => Refused.invalid([{ path: '/key', message }]);
    if (await manager.existsBy(TeamEntity, { parent: key })) throw refuse('has teams inside it');
    if (await manager.existsBy(LeadEntity, { bayTeam: key, status: 'open' })) throw refuse('has leads waiting for it');
    const by = await charterNaming(manager, 'team', key);
    if (by !== null) throw refuse(`is named by ${by}`);
    const { affected } = await manager.delete(TeamEntity, { key });
    if (affected === 0) throw Refused.notFound();
    await manager.delete(TeamMemberEntity, { team: key });
  });
}
