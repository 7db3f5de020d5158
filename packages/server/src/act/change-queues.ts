import type { ChangeQueue } from '@relvik/contracts';
import { type DataSource, type EntityManager, In, IsNull } from 'typeorm';
import { Refused } from '../problem/refused';
import { CharterEntity } from '../store/entity/charter.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity, QueueEntity, QueueMemberEntity } from '../store/entity/people.entity';

/** A key that an admin chooses for something new. */
export function checkKey(key: string): void {
  if (!/^[a-z][a-z0-9_-]{0,47}$/.test(key))
    throw Refused.invalid([{ path: '/key', message: 'must be small letters, digits, _ or -, at most 48' }]);
}

/** Makes a queue, or changes it: its name, order, who picks up, and how many of its leads one of them may hold. */
export async function changeQueue(
  source: DataSource,
  key: string,
  { name, order, mostHeld, members }: ChangeQueue,
): Promise<void> {
  checkKey(key);
  await source.transaction(async (manager) => {
    const known = new Set(
      (await manager.findBy(PersonEntity, { key: In([...members, '']), retired: false })).map((one) => one.key),
    );
    const problems = members.flatMap((member, i) => {
      if (!known.has(member)) return [{ path: `/members/${i}`, message: 'is nobody here' }];
      return members.indexOf(member) < i ? [{ path: `/members/${i}`, message: 'stands twice' }] : [];
    });
    if (problems.length > 0) throw Refused.invalid(problems);
    await manager.save(QueueEntity, { key, name, order, mostHeld });
    await manager.delete(QueueMemberEntity, { queue: key });
    if (members.length > 0)
      await manager.insert(
        QueueMemberEntity,
        members.map((person) => ({ queue: key, person })),
      );
  });
}

/** Takes a queue out. One in which leads wait stays, and one that a charter in force or a draft names. */
export async function removeQueue(source: DataSource, key: string): Promise<void> {
  await source.transaction(async (manager) => {
    const refuse = (message: string): Refused => Refused.invalid([{ path: '/key', message }]);
    if (await manager.existsBy(LeadEntity, { queue: key, status: 'open' })) throw refuse('has leads waiting in it');
    const by = await charterNaming(manager, 'queue', key);
    if (by !== null) throw refuse(`is named by ${by}`);
    const { affected } = await manager.delete(QueueEntity, { key });
    if (affected === 0) throw Refused.notFound();
    await manager.delete(QueueMemberEntity, { queue: key });
  });
}

/** The name of the charter in force, or of a draft, that names a rep, team or queue; null: none does. */
export async function charterNaming(
  manager: EntityManager,
  what: 'rep' | 'team' | 'queue',
  key: string,
): Promise<string | null> {
  // Drafts have no number yet.
  const charters = await manager.find(CharterEntity, { where: [{ inForce: true }, { number: IsNull() }] });
  return charters.find(({ body }) => names(body, what, key))?.name ?? null;
}

/** Whether any part of a charter names it, be it as one or within a list. */
function names(part: unknown, what: 'rep' | 'team' | 'queue', key: string): boolean {
  if (Array.isArray(part)) return part.some((one) => names(one, what, key));
  if (typeof part !== 'object' || part === null) return false;
  return Object.entries(part).some(([member, value]) => {
    if (value === key && (member === what || (what === 'rep' && member === 'manager'))) return true;
    if (what === 'queue' && member === 'lastResort') return Object.values(value as object).includes(key);
    if (what === 'rep' && member === 'reps' && Array.isArray(value) && value.includes(key)) return true;
    return names(value, what, key);
  });
}
