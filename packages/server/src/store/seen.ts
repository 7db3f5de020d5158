import type { ReadyCharter, RepKey, Rota } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { RepSeenEntity } from './entity/people.entity';
import { replaceRows } from './rows';

/** How often it is noted that someone is seen, ms: much less than what counts as lately. */
const NOTED = 60_000;

/**
 * When everyone who is signed in was last seen.
 *
 * @param ready where it is given, and none of its routes asks who is present, nothing is read
 */
export async function readSeen(manager: EntityManager, ready: ReadyCharter | null = null): Promise<Pick<Rota, 'seen'>> {
  if (ready !== null && !asksPresence(ready)) return {};
  const rows = await manager.find(RepSeenEntity);
  return { seen: new Map(rows.map(({ rep, at }) => [rep as RepKey, at.getTime()])) };
}

const known = new WeakMap<ReadyCharter, boolean>();

function asksPresence(ready: ReadyCharter): boolean {
  const before = known.get(ready);
  if (before !== undefined) return before;
  const asks = ready.rules.lead.streams.some(({ routes }) =>
    routes.some(({ respects }) => respects?.presence === true),
  );
  known.set(ready, asks);
  return asks;
}

/** Notes who is seen, of each person once a minute. */
export class Seen {
  private readonly noted = new Map<string, number>();

  constructor(private readonly source: DataSource) {}

  async note(person: string, at: Date): Promise<void> {
    const last = this.noted.get(person);
    if (last !== undefined && Math.abs(at.getTime() - last) < NOTED) return;
    this.noted.set(person, at.getTime());
    await replaceRows(this.source.manager, RepSeenEntity, [{ rep: person, at }]);
  }

  /** Forgets someone who signed out. */
  async forget(person: string): Promise<void> {
    this.noted.delete(person);
    await this.source.manager.delete(RepSeenEntity, { rep: person });
  }
}
