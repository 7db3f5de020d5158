import { BLANK, loadsBetween, type Place, sameValue, type Value } from '@relvik/core';
import { type DataSource, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { ActivityEntity, ChangeEntity, NoticeEntity } from '../store/entity/history.entity';
import { JoinedLeadEntity, type JoinUndo } from '../store/entity/joined-lead.entity';
import { LeadEntity, RecordEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { TaskEntity } from '../store/entity/task.entity';
import { loadLeads, placeOf, type StoredLead, tiesOf } from '../store/load-leads';
import { standAnew } from '../store/open-for';
import { lockRota, writeRota } from '../store/rota';
import { insertRows } from '../store/rows';
import { rowOf } from '../store/value-row';
import { type Act, edited } from './act';
import { act } from './acting';
import { type Cause, handOf } from './cause';
import { recountDeals } from './follow-deals';
import { type Hand, takeInHand } from './hand';
import { byCause } from './history';
import { type Acting, perform } from './perform';
import { withdrawJoined } from './proposals';
import { touchParties } from './touch-parties';

/** Two leads of one person: the older keeps its id, stage, looks and place. */
export interface Pair {
  readonly older: StoredLead;
  readonly younger: StoredLead;
}

/** The older of two leads is the one that came in first. */
export function pairOf(a: StoredLead, b: StoredLead): Pair {
  const aFirst =
    a.record.arrived < b.record.arrived || (a.record.arrived === b.record.arrived && a.entity.id < b.entity.id);
  return aFirst ? { older: a, younger: b } : { older: b, younger: a };
}

/** Fields in which the younger lead says something else, or something where the older says nothing. */
export function differences({ older, younger }: Pair): { field: string; older: Value | null; younger: Value }[] {
  return [...younger.record.values].flatMap(([field, value]) => {
    const known = older.record.values.get(field) ?? null;
    return value.kind === 'blank' || sameValue(known ?? BLANK, value) ? [] : [{ field, older: known, younger: value }];
  });
}

/**
 * Joins two open leads of one person, in one transaction: values, activities and history of the younger move to the older.
 *
 * @param take the fields in which the younger's value is taken; where the older has none it always is
 * @returns the id of the older one
 */
export function joinLeads(
  source: DataSource,
  [id, other]: readonly [number, number],
  take: readonly string[],
  hand: Hand,
): Promise<number> {
  if (id === other) throw Refused.as('cannot-join', { detail: 'It is the same lead.' });
  return act(source, hand.at, async (acting) => {
    const [one, two] = await takeInHand(acting.manager, [id, other], 'join', hand);
    if (one === undefined || two === undefined) throw Refused.notFound();
    const pair = pairOf(one.lead, two.lead);
    const taken = differences(pair).filter(({ field, older }) => older === null || take.includes(field));
    const cause = handOf(hand.user);
    const moved = await moveAside(acting, pair, cause, hand.at);
    await acting.manager.insert(JoinedLeadEntity, {
      id: pair.younger.entity.id,
      older: pair.older.entity.id,
      at: hand.at,
      person: hand.user.key,
      undo: {
        ...moved,
        taken: taken.map(({ field, older, younger }) => ({ field, before: older, after: younger })),
      },
    });
    await perform(acting, [joinedAct(pair, taken, cause, hand.at)]);
    return pair.older.entity.id;
  });
}

/** The older lead with what it gets from the younger, decided again. An owner comes along where it has none. */
function joinedAct(
  { older, younger }: Pair,
  taken: readonly { readonly field: string; readonly younger: Value }[],
  cause: Cause,
  at: Date,
): Act {
  const changed = new Map(taken.map(({ field, younger: value }) => [field, value]));
  const activities = [...older.record.activities, ...younger.record.activities];
  const { standing } = older.record;
  const place = standing.place?.kind === 'owner' ? standing.place : (ownerOf(younger) ?? standing.place);
  const record = { ...older.record, activities, standing: { ...standing, place } };
  return edited({ ...older, record }, changed, 'joined', cause, at);
}

function ownerOf({ record: { standing } }: StoredLead): Extract<Place, { kind: 'owner' }> | null {
  return standing.place?.kind === 'owner' ? standing.place : null;
}

/** Takes the younger lead out of lists and counts; what hangs on it goes to the older. */
async function moveAside(
  acting: Acting,
  { older, younger }: Pair,
  cause: Cause,
  at: Date,
): Promise<Omit<JoinUndo, 'taken'>> {
  const { manager } = acting;
  const from = younger.entity.id;
  const to = older.entity.id;
  const idsOf = async (entity: typeof ActivityEntity | typeof ChangeEntity | typeof TaskEntity): Promise<number[]> =>
    (await manager.find(entity, { select: { id: true }, where: { record: from } })).map(({ id }) => id);
  const undo = {
    lead: younger.entity,
    values: [...younger.record.values],
    activities: await idsOf(ActivityEntity),
    changes: await idsOf(ChangeEntity),
    tasks: await idsOf(TaskEntity),
    deals: (await manager.find(DealEntity, { select: { id: true }, where: { lead: from } })).map(({ id }) => id),
  };
  await changeLoads(acting, younger, 'away');
  for (const entity of [ActivityEntity, ChangeEntity, NoticeEntity, OutboxEntity, TaskEntity])
    await manager.update(entity, { record: from }, { record: to });
  // Values not taken of the younger go to the older; where both have one of a field, that of the older stays.
  await manager.query('UPDATE IGNORE said_value SET record = ? WHERE record = ?', [to, from]);
  await manager.delete(SaidValueEntity, { record: from });
  await manager.update(DealEntity, { lead: from }, { lead: to });
  older.entity.openDeals += younger.entity.openDeals;
  await withdrawJoined(manager, from, at);
  await manager.delete(LeadEntity, from);
  for (const entity of [FieldValueEntity, SideScoreEntity]) await manager.delete(entity, { record: from });
  await manager.update(RecordEntity, from, { kind: 'joined' });
  await insertRows(manager, ChangeEntity, [
    {
      ...byCause(cause),
      record: to,
      field: 'place',
      from: placeOf(younger.entity),
      to: placeOf(older.entity),
      reason: `lead ${from} joined`,
      at,
    },
  ]);
  await touchParties(manager, [tiesOf(younger.entity)], at);
  return undo;
}

/** The load of whoever owns a lead that goes away, or comes back. */
async function changeLoads(acting: Acting, { record }: StoredLead, way: 'away' | 'back'): Promise<void> {
  const loads = loadsBetween(record.standing, 'open', { kind: 'not-handed-over', verdict: null }).filter(
    ({ by }) => by < 0,
  );
  const rota = await lockRota(
    acting.manager,
    [],
    loads.map(({ rep }) => rep),
  );
  for (const { rep } of loads) rota.loads.set(rep, (rota.loads.get(rep) ?? 0) + (way === 'away' ? -1 : 1));
  await writeRota(
    acting.manager,
    rota,
    [],
    loads.map(({ rep }) => rep),
  );
  if (way === 'away' && loads.length > 0) acting.frees = true;
}

/** As long as a join can be undone, ms. */
export const JOIN_UNDO = 10 * 86_400_000;

/** Takes a join back, within ten days: the younger lead stands again as it was, the older without what it had got. */
export function undoJoin(source: DataSource, younger: number, hand: Hand): Promise<void> {
  return act(source, hand.at, async (acting) => {
    const { manager } = acting;
    const joined = await manager
      .createQueryBuilder(JoinedLeadEntity, 'joined')
      .where({ id: younger })
      .setLock('pessimistic_write')
      .getOne();
    if (joined === null) throw Refused.notFound();
    const [inHand] = await takeInHand(manager, [joined.older], 'join', hand);
    if (inHand === undefined) throw Refused.notFound();
    if (hand.at.getTime() - joined.at.getTime() > JOIN_UNDO)
      throw Refused.as('cannot-undo', { detail: 'A join can be undone for ten days.' });
    await giveBack(acting, inHand.lead, joined.undo, handOf(hand.user), hand.at);
    await standAgain(acting, joined, hand.at);
  });
}

/** The older lead without what it got, where it still has it. */
async function giveBack(acting: Acting, older: StoredLead, undo: JoinUndo, cause: Cause, at: Date): Promise<void> {
  const { manager } = acting;
  const away = new Set(undo.activities);
  const kept = await manager.find(ActivityEntity, { where: { record: older.entity.id } });
  const changed = new Map(
    undo.taken
      .filter(({ field, after }) => sameValue(older.record.values.get(field), after))
      .map(({ field, before }) => [field, before ?? BLANK]),
  );
  const activities = kept
    .filter(({ id }) => !away.has(id))
    .map(({ kind, at: when, properties }) => ({
      kind,
      at: when.getTime(),
      ...(properties === null ? {} : { properties }),
    }));
  await perform(acting, [edited({ ...older, record: { ...older.record, activities } }, changed, 'edited', cause, at)]);
}

async function standAgain(acting: Acting, { id, older, undo }: JoinedLeadEntity, at: Date): Promise<void> {
  const { manager } = acting;
  const { lead } = undo;
  const instant = (value: Date | null): Date | null => (value === null ? null : new Date(value));
  const entity: LeadEntity = {
    ...lead,
    version: lead.version + 1,
    since: new Date(lead.since),
    arrived: new Date(lead.arrived),
    touchedAt: at,
    stageSince: new Date(lead.stageSince),
    decidedAt: new Date(lead.decidedAt),
    // Its score may have faded meanwhile: the next look computes it.
    changesAt: at,
    closedAt: instant(lead.closedAt),
    openFor: null,
  };
  await manager.update(RecordEntity, id, { kind: 'lead' });
  await insertRows(manager, LeadEntity, [entity]);
  await standAnew(manager, [id]);
  await insertRows(
    manager,
    FieldValueEntity,
    undo.values.flatMap(([field, value]) => (value.kind === 'blank' ? [] : [rowOf(id, field, value)])),
  );
  if (undo.activities.length > 0)
    await manager.update(ActivityEntity, { id: In([...undo.activities]) }, { record: id });
  if (undo.changes.length > 0) await manager.update(ChangeEntity, { id: In([...undo.changes]) }, { record: id });
  const { tasks = [], deals = [] } = undo;
  if (deals.length > 0) await manager.update(DealEntity, { id: In([...deals]), lead: older }, { lead: id });
  if (tasks.length > 0) await manager.update(TaskEntity, { id: In([...tasks]) }, { record: id });
  await manager.delete(JoinedLeadEntity, id);
  const [stored] = await loadLeads(manager, [id], 'write');
  if (stored === undefined) return;
  await recountDeals(manager, [id, older]);
  await changeLoads(acting, stored, 'back');
  await touchParties(manager, [tiesOf(stored.entity)], at);
}
