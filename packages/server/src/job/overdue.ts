import { calendarOf, type Destination, isAnyoneFree, type Organisation, type Route } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { again, type Act } from '../act/act';
import { act } from '../act/acting';
import { RELVIK } from '../act/cause';
import { perform } from '../act/perform';
import { eachAlone, notFailing } from '../store/failures';
import { readGoverning } from '../store/governing';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { peekLoads } from '../store/rota';
import { readSeen } from '../store/seen';

const WORK = 'overdue';
const BATCH = 200;
const MINUTE = 60_000;

type HandingOn = Route & { readonly to: Extract<Destination, { readonly kind: 'handed-on' }> };

/** Nobody of the team is free for this lead: nothing is written, and it is tried again. */
class NobodyFree extends Error {}

/**
 * Gives leads to the team whose manager did not hand them on within the working minutes that the route allows, the oldest first. While nobody of the
 * team is free they stay in the queue.
 *
 * @returns how many it gave away
 */
export async function handOnOverdue(source: DataSource, now: Date): Promise<number> {
  const { ready, world } = await readGoverning(source.manager, 'none');
  let done = 0;
  for (const stream of ready.rules.lead.streams)
    for (const route of stream.routes) {
      if (!stream.on || !route.on || !handsOn(route) || route.to.minutes === null) continue;
      const due = await dueOf(source.manager, route, route.to.minutes, world, now);
      if (due.length === 0) continue;
      const to = { ...route, to: { kind: 'team' as const, team: route.to.team } };
      const nobodyFree = route.nobodyFree ?? stream.nobodyFree ?? { kind: 'wait' };
      const isFree = async (): Promise<boolean> => {
        const rota = { loads: await peekLoads(source.manager), ...(await readSeen(source.manager, ready)) };
        return isAnyoneFree({ route: to, nobodyFree, skills: [] }, world, rota, now.getTime());
      };
      done += await giveAll(source, route, due, isFree, now);
    }
  return done;
}

function handsOn(route: Route): route is HandingOn {
  return route.to.kind === 'handed-on';
}

/** The leads whose time is over, by when they came into the queue. Without a manager who has hours all time counts. */
async function dueOf(
  manager: EntityManager,
  route: HandingOn,
  minutes: number,
  people: Organisation,
  now: Date,
): Promise<number[]> {
  const waiting = await manager.query<{ id: number; since: Date }[]>(
    `SELECT id, since FROM \`lead\` WHERE route = ? AND place = 'queue' AND queue = ? AND status = 'open' AND since <= ?
     AND ${notFailing('`lead`.id')} ORDER BY since, id LIMIT ${BATCH}`,
    [route.key, route.to.queue, new Date(now.getTime() - minutes * MINUTE), WORK, now],
  );
  if (waiting.length === 0) return [];
  const led = await manager.query<{ person: string }[]>(
    'SELECT person FROM team_member WHERE team = ? AND leads = 1 ORDER BY joined, person',
    [route.to.team],
  );
  const leader = led.flatMap(({ person }) => people.reps.get(person as never) ?? [])[0];
  const isOver = (since: number): boolean => {
    if (leader === undefined) return true;
    const end = calendarOf(leader, people).after(since, minutes);
    return end !== null && end <= now.getTime();
  };
  return waiting.filter(({ since }) => isOver(since.getTime())).map(({ id }) => id);
}

/** @param isFree whether anyone of the team is free; asked anew after a lead that nobody could get: who gave it back may get the next */
async function giveAll(
  source: DataSource,
  route: HandingOn,
  ids: readonly number[],
  isFree: () => Promise<boolean>,
  now: Date,
): Promise<number> {
  let given = 0;
  let ask = true;
  for (const id of ids) {
    if (ask && !(await isFree())) break;
    ask = false;
    await eachAlone(source, WORK, [id], now, async () => {
      if (await giveOne(source, route, id, now)) given += 1;
      else ask = true;
    });
  }
  return given;
}

/** @returns false: it was handed on meanwhile, or nobody who may get it is free */
async function giveOne(source: DataSource, route: HandingOn, id: number, now: Date): Promise<boolean> {
  try {
    return await act(source, now, async (acting) => {
      const [lead] = await loadLeads(acting.manager, [id], 'write');
      if (lead === undefined || !waitsIn(lead, route)) return false;
      const [outcome] = await perform(acting, [overdue(lead, route, now)]);
      if (outcome?.decision?.kept === true) throw new NobodyFree();
      return outcome?.after.place === 'owner';
    });
  } catch (error) {
    if (error instanceof NobodyFree) return false;
    throw error;
  }
}

function waitsIn({ entity: { place, queue, status, route } }: StoredLead, { key, to }: HandingOn): boolean {
  return place === 'queue' && queue === to.queue && status === 'open' && route === key;
}

function overdue(lead: StoredLead, { key }: HandingOn, now: Date): Act {
  return {
    ...again(lead, 'overdue', RELVIK, now),
    change: { kind: 'decide', occasion: 'overdue', person: { kind: 'gives', to: { kind: 'overdue', route: key } } },
  };
}
