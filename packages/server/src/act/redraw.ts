import type { ChooseRedraw, Redraw, RedrawChoice } from '@relvik/contracts';
import { isContact, type RepKey } from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { CharterEntity, JobEntity } from '../store/entity/charter.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { RedrawEntity, RedrawMoveEntity } from '../store/entity/redraw.entity';
import { readGoverning } from '../store/governing';
import { loadLeads, placeOf } from '../store/load-leads';
import { insertRows } from '../store/rows';
import { isDuplicate } from '../store/transaction';
import { again, moved } from './act';
import { act } from './acting';
import { handOf } from './cause';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

/** Number of leads handed on in one transaction. */
const BATCH = 100;
/** Number of leads named in the preview. */
const NAMED = 30;

/** An open lead whose territory changed when the charter in force came into force, and whose owner did not. */
interface Redrawn {
  readonly id: number;
  readonly name: string;
  readonly owner: string;
  readonly from: string | null;
  readonly to: string | null;
  readonly untouched: boolean;
}

/** Pinned leads are left out: their territory did not change. */
async function redrawnLeads(manager: EntityManager): Promise<{ readonly charter: number; readonly leads: Redrawn[] }> {
  const { number, world } = await readGoverning(manager, 'none');
  const enacted = await manager.findOneBy(CharterEntity, { number });
  const contacts = [...world.kinds.values()].filter(isContact).map(({ key }) => key);
  const rows = await manager.query<
    { id: number; name: string; owner: string; from: string | null; to: string | null; touched: number }[]
  >(
    `SELECT l.id, COALESCE(NULLIF(l.name, ''), l.company, '') AS name, l.owner, JSON_UNQUOTE(c.\`from\`) AS \`from\`,
       l.territory AS \`to\`,
       EXISTS (SELECT 1 FROM activity a FORCE INDEX (activity_by_record) WHERE a.record = l.id AND a.kind IN (?) AND a.at >= l.since) AS touched
     FROM record_change c JOIN \`lead\` l ON l.id = c.record
     WHERE c.field = 'territory' AND c.at >= ? AND c.cause = 'charter' AND c.charter = ?
       AND l.status = 'open' AND l.place = 'owner' AND l.since <= c.at AND l.pin IS NULL
     ORDER BY l.id`,
    [contacts, enacted?.enactedAt ?? new Date(0), number],
  );
  const leads = rows
    .filter(({ from, to }) => from !== to)
    .map(({ touched, ...row }) => ({ ...row, untouched: touched === 0 }));
  return { charter: number, leads };
}

/** Open leads with an owner whose territory the charter in force changed, and the choice made for them. */
export async function readRedraw(manager: EntityManager): Promise<Redraw> {
  const { charter, leads } = await redrawnLeads(manager);
  const chosen = await manager.findOneBy(RedrawEntity, { charter });
  const handedOn = chosen === null ? 0 : await manager.countBy(RedrawMoveEntity, { charter });
  return {
    charter,
    leads: leads.length,
    untouched: leads.filter(({ untouched }) => untouched).length,
    some: leads.slice(0, NAMED),
    chosen: chosen && { choice: chosen.choice, handedOn, by: chosen.by, at: chosen.at.getTime() },
  };
}

/**
 * Keeps the owners of leads whose territory changed, or lets the routes choose again: for all of them, or for those whose owner has not
 * contacted anyone yet. A lead stays with its owner where no route matches it, or nobody is free.
 *
 * @throws Refused where another charter is in force by now, its leads are still being rescored, or the choice was made already
 */
export async function chooseRedraw(source: DataSource, { charter, choice }: ChooseRedraw, hand: Hand): Promise<void> {
  const { manager } = source;
  const found = await redrawnLeads(manager);
  if (found.charter !== charter)
    throw Refused.invalid([{ path: '/charter', message: `is not in force any more: charter ${found.charter} is` }]);
  if (await manager.existsBy(JobEntity, { state: 'running' })) throw Refused.as('still-rescoring');
  try {
    await manager.insert(RedrawEntity, { charter, choice, by: hand.user.name, at: hand.at });
  } catch (error) {
    if (!isDuplicate(error, 'PRIMARY')) throw error;
    throw Refused.invalid([{ path: '/choice', message: 'was made already: undo it first' }]);
  }
  const leads = chosenOf(choice, found.leads);
  for (let from = 0; from < leads.length; from += BATCH)
    await act(source, hand.at, (acting) => handOn(acting, charter, leads.slice(from, from + BATCH), hand));
}

function chosenOf(choice: RedrawChoice, leads: readonly Redrawn[]): readonly Redrawn[] {
  switch (choice) {
    case 'keep':
      return [];
    case 'all':
      return leads;
    case 'untouched':
      return leads.filter(({ untouched }) => untouched);
  }
}

async function handOn(acting: Acting, charter: number, found: readonly Redrawn[], hand: Hand): Promise<void> {
  const { manager } = acting;
  // Anything that happened to them since they were found counts.
  const ownerThen = new Map(found.map(({ id, owner }) => [id, owner]));
  const leads = (await loadLeads(manager, [...ownerThen.keys()], 'write')).filter(
    ({ entity }) => entity.status === 'open' && entity.pin === null && entity.owner === ownerThen.get(entity.id),
  );
  const governing = await readGoverning(manager, 'share');
  const outcomes = await perform(
    acting,
    leads.map((lead) => again(lead, 'handed-on', handOf(hand.user), hand.at)),
    governing,
  );
  const moves = outcomes.flatMap(({ act: { stored }, after }) => {
    const from = stored?.owner ?? null;
    return from === null || after.owner === from ? [] : [{ charter, record: after.id, from, to: after.owner }];
  });
  await insertRows(manager, RedrawMoveEntity, moves);
}

/** Gives leads that were handed on back to their former owners, except those moved since. The choice can then be made again. */
export async function undoRedraw(source: DataSource, charter: number, hand: Hand): Promise<void> {
  if (!(await source.manager.existsBy(RedrawEntity, { charter }))) throw Refused.notFound();
  for (;;) {
    const moves = await source.manager.find(RedrawMoveEntity, {
      where: { charter },
      order: { record: 'ASC' },
      take: BATCH,
    });
    if (moves.length === 0) break;
    await act(source, hand.at, (acting) => giveBack(acting, charter, moves, hand));
  }
  await source.manager.delete(RedrawEntity, { charter });
}

async function giveBack(
  acting: Acting,
  charter: number,
  moves: readonly RedrawMoveEntity[],
  hand: Hand,
): Promise<void> {
  const { manager } = acting;
  const byRecord = new Map(moves.map((move) => [move.record, move]));
  const leads = await loadLeads(manager, [...byRecord.keys()], 'write');
  const there = new Set(
    (await manager.findBy(PersonEntity, { key: In(moves.map(({ from }) => from)), retired: false })).map(
      ({ key }) => key,
    ),
  );
  const acts = leads.flatMap((lead) => {
    const move = byRecord.get(lead.entity.id);
    const place = placeOf(lead.entity);
    const isTheirs = place.kind === 'owner' ? place.rep === move?.to : move?.to === null;
    if (move === undefined || lead.entity.status !== 'open' || !isTheirs || !there.has(move.from)) return [];
    const rep = move.from as RepKey;
    const change = { place: { kind: 'owner', rep }, effects: [{ kind: 'tell-owner', rep }] } as const;
    return [moved(lead, change, handOf(hand.user), hand.at)];
  });
  await perform(acting, acts);
  await manager.delete(RedrawMoveEntity, { charter, record: In([...byRecord.keys()]) });
}
