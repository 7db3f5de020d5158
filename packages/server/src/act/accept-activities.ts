import { type ActivityOutcome, EVENT_LENGTH, type SentActivity } from '@relvik/contracts';
import { type ActivityKinds, fold } from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { readKinds } from '../store/governing';
import { SentLeadEntity } from '../store/entity/intake.entity';
import { JoinedLeadEntity } from '../store/entity/joined-lead.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { contactsBy } from '../store/find-parties';
import { loadLeads } from '../store/load-leads';
import { again } from './act';
import { act } from './acting';
import type { Cause } from './cause';
import { type Hand, takeInHand } from './hand';
import { makeDueBelow } from './due-across';
import { type Acting, perform } from './perform';
import { checkActivity } from './check-activity';
import { answerOnce, newMark, type RequestMark, untilKnown } from './request-mark';
import { touchParties } from './touch-parties';

/** Activities of one sender: a key, a file or a person. */
export interface Sending {
  /** The intake key that sends: by id it may name only leads that it sent. */
  readonly key?: number;
  /** The owner of the event ids: an id counts once per sender. */
  readonly sender: string;
  readonly cause: Cause;
  readonly activities: readonly SentActivity[];
  readonly at: Date;
  /** The caller's own mark of the request. */
  readonly mark?: RequestMark | null;
  /** Set for activities noted by hand: rights are checked inside the transaction. */
  readonly hand?: Hand;
}

interface Readable {
  readonly row: number;
  readonly sent: SentActivity;
  readonly at: Date;
}

const DECIDED_AT_ONCE = 500;

type Refusals = { row: number; field: string; message: string }[];

function readAll({ activities, at: now }: Sending, kinds: ActivityKinds, refused: Refusals): Readable[] {
  return activities.flatMap((sent, i): Readable[] => {
    const row = i + 1;
    const refuse = (field: string, message: string): [] => {
      refused.push({ row, field, message });
      return [];
    };
    const checked = checkActivity(sent, kinds, now);
    if (checked.kind === 'refused') return refuse(checked.field, checked.message);
    if (sent.lead !== undefined && !(Number.isSafeInteger(sent.lead) && sent.lead > 0))
      return refuse('lead', 'is no id of a lead');
    // What the database would cut off would be taken for another event.
    if ((sent.event?.length ?? 0) > EVENT_LENGTH) return refuse('event', `has more than ${EVENT_LENGTH} characters`);
    if ((sent.lead === undefined) === (sent.email === undefined))
      return refuse('email', 'say whose it is: by the id of the lead, or by an e-mail');
    return [{ row, sent, at: checked.at }];
  });
}

/** Those of the leads that a key sent. */
async function sentBy(manager: EntityManager, key: number, ids: readonly number[]): Promise<number[]> {
  const sent = await manager.findBy(SentLeadEntity, { key, record: In([...new Set(ids)]) });
  return sent.map(({ record }) => record);
}

function emailOf({ sent }: Readable): string {
  return fold(sent.email ?? '').slice(0, 320);
}

/** The lead of each: by id, or by e-mail the open one, else the newest that is closed. */
async function leadsOf(
  manager: EntityManager,
  readable: readonly Readable[],
  key: number | undefined,
): Promise<Map<Readable, number>> {
  const named = readable.flatMap(({ sent }) => (sent.lead === undefined ? [] : [sent.lead]));
  const ids = key === undefined || named.length === 0 ? named : await sentBy(manager, key, named);
  const emails = readable.flatMap((one) => (one.sent.email === undefined ? [] : [emailOf(one)]));
  const [byId, byEmail] = await Promise.all([
    ids.length === 0 ? [] : manager.find(LeadEntity, { select: { id: true }, where: { id: In([...new Set(ids)]) } }),
    emails.length === 0
      ? []
      : manager.find(LeadEntity, {
          select: { id: true, email: true, status: true },
          where: { email: In([...new Set(emails)]) },
          order: { id: 'ASC' },
        }),
  ]);
  const known = new Map(byId.map(({ id }) => [id, id]));
  // A lead that was joined into an older one: what checked with it checked with that one.
  const gone = ids.filter((id) => !known.has(id));
  if (gone.length > 0)
    for (const { id, older } of await manager.find(JoinedLeadEntity, { where: { id: In(gone) } })) known.set(id, older);
  const closed = new Map(byEmail.map(({ email, id }) => [email, id]));
  const open = new Map(byEmail.flatMap(({ email, id, status }) => (status === 'open' ? [[email, id] as const] : [])));
  const found = new Map<Readable, number>();
  for (const one of readable) {
    const { lead } = one.sent;
    const id = lead === undefined ? (open.get(emailOf(one)) ?? closed.get(emailOf(one))) : known.get(lead);
    if (id !== undefined) found.set(one, id);
  }
  return found;
}

/** The contacts of those whose e-mail is of no lead. */
async function contactsOf(manager: EntityManager, readable: readonly Readable[]): Promise<Map<Readable, number>> {
  const known = await contactsBy(
    manager,
    readable.map(emailOf).filter((email) => email !== ''),
  );
  return new Map(
    readable.flatMap((one) => {
      const id = known.get(emailOf(one));
      return id === undefined ? [] : [[one, id] as const];
    }),
  );
}

/** Writes activities; those whose event is known already are left out by the index. Says how many were new. */
async function insert(
  manager: EntityManager,
  sender: string,
  rows: readonly { readonly record: number; readonly one: Readable }[],
): Promise<number> {
  const { affectedRows } = await manager.query<{ affectedRows: number }>(
    `INSERT IGNORE INTO activity (record, kind, at, properties, sender, event) VALUES ${rows.map(() => '(?,?,?,?,?,?)').join(',')}`,
    rows.flatMap(({ record, one: { sent, at } }) => {
      const properties = Object.keys(sent.properties ?? {}).length === 0 ? null : JSON.stringify(sent.properties);
      return [record, sent.kind, at, properties, sent.event === undefined ? null : sender, sent.event ?? null];
    }),
  );
  return affectedRows;
}

/**
 * Takes activities in, in any order; a repeated event counts once. Open leads are decided again, each once.
 *
 * @returns what became of them; what can't be taken in is named by place and field, the rest is on disk
 */
export async function acceptActivities(source: DataSource, sending: Sending): Promise<ActivityOutcome> {
  const mark = sending.mark ?? newMark();
  return untilKnown((mayBeStored) =>
    act(source, sending.at, (acting, attempt) =>
      answerOnce(acting.manager, mark, mayBeStored || attempt > 1 || Boolean(sending.mark), sending.at, () =>
        takeIn(acting, sending),
      ),
    ),
  );
}

async function takeIn(acting: Acting, sending: Sending): Promise<ActivityOutcome> {
  const { manager } = acting;
  // First: outside the user's sight there is nothing here, whatever was sent.
  if (sending.hand) {
    const on = sending.activities.flatMap(({ lead }) => lead ?? []);
    await takeInHand(manager, on, 'edit', sending.hand);
  }
  const refused: Refusals = [];
  const kinds = new Map((await readKinds(manager)).map((kind) => [kind.key, kind]));
  const readable = readAll(sending, kinds, refused);
  const leads = await leadsOf(manager, readable, sending.key);
  const contacts = await contactsOf(
    manager,
    readable.filter((one) => !leads.has(one)),
  );
  const rows = readable.flatMap((one) => {
    const record = leads.get(one) ?? contacts.get(one);
    if (record !== undefined) return [{ record, one }];
    const byId = one.sent.email === undefined;
    refused.push({
      row: one.row,
      field: byId ? 'lead' : 'email',
      message: byId ? 'is of no lead here: send the lead first' : 'is of no lead or contact here: send it first',
    });
    return [];
  });
  refused.sort((a, b) => a.row - b.row);
  if (rows.length === 0) return { accepted: 0, repeated: 0, refused };

  const ids = [...new Set(leads.values())].sort((a, b) => a - b);
  if (ids.length > 0) await manager.query('SELECT id FROM `lead` WHERE id IN (?) ORDER BY id FOR UPDATE', [ids]);
  const accepted = await insert(manager, sending.sender, rows);
  if (accepted > 0) {
    await touchContacts(manager, [...new Set(contacts.values())], sending.at);
    await decideAgain(acting, ids, sending);
  }
  return { accepted, repeated: rows.length - accepted, refused };
}

async function touchContacts(manager: EntityManager, ids: readonly number[], at: Date): Promise<void> {
  if (ids.length === 0) return;
  const rows = await manager.query<{ id: number; company: number | null }[]>(
    'SELECT id, company FROM contact WHERE id IN (?)',
    [ids],
  );
  await touchParties(
    manager,
    rows.map(({ id, company }) => ({ contact: id, company })),
    at,
  );
  await makeDueBelow(manager, ids, at);
}

async function decideAgain(acting: Acting, ids: readonly number[], { at, cause }: Sending): Promise<void> {
  for (let i = 0; i < ids.length; i += DECIDED_AT_ONCE) {
    const leads = await loadLeads(acting.manager, ids.slice(i, i + DECIDED_AT_ONCE), 'write');
    const open = leads.filter(({ entity }) => entity.status === 'open');
    await perform(
      acting,
      open.map((lead) => again(lead, 'activity', cause, at)),
    );
  }
}
