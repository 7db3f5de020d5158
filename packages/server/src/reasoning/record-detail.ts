import {
  NO_CELLS,
  type ShortLead,
  type RecordDetail,
  type RecordRow,
  type RecordValue,
  type TieName,
} from '@relvik/contracts';
import { fedValue, gradeRecord, type Score, showValue, TIE_KINDS, type UnroutedKind, type Value } from '@relvik/core';
import type { EntityManager, ObjectLiteral, SelectQueryBuilder } from 'typeorm';
import { PARTY_UNDO } from '../act/undo-party-join';
import { rowOfLead } from '../list/lead-list';
import { LIST_KINDS } from '../list/list-kinds';
import { over } from '../list/page';
import { rowsOfRecords, tieNames } from '../list/record-list';
import { saidValue } from '../list/said-rows';
import { ShownGrades } from '../list/shown-grades';
import { Refused } from '../problem/refused';
import { recordInSight } from '../session/record-sight';
import { rightsOnRecord } from '../session/record-rights';
import type { User } from '../session/session-store';
import { recordsInSight, type Sight } from '../session/sight';
import { CompanyKeyEntity } from '../store/entity/company.entity';
import { ContactAliasEntity } from '../store/entity/contact.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { ActivityEntity, ChangeEntity } from '../store/entity/history.entity';
import { JoinedPartyEntity } from '../store/entity/joined-party.entity';
import { type LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { TaskEntity } from '../store/entity/task.entity';
import type { UnroutedEntity } from '../store/entity/unrouted.entity';
import { sayingsOf } from '../store/feeds';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { movingDeal } from '../store/moving-deal';
import { changeLine } from './change-line';
import { obstaclesNow } from './obstacles-now';
import { pastProposal } from './proposals';

const MOST = 100;
const ACTIVITIES = 200;

/** A score with its points, but without the values and activities they came from, which may be of records out of sight. */
function withoutAccounts(score: Score): Score {
  const bare = <T extends Pick<Score, 'signals'>>(one: T): T => ({
    ...one,
    signals: one.signals.map((signal) => ({ ...signal, account: null, seen: null })),
  });
  return { ...bare(score), beside: score.beside.map(bare) };
}

interface EntityBelow {
  readonly lead: LeadEntity;
  readonly contact: UnroutedEntity;
  readonly deal: DealEntity;
}

/** The records of a kind below another, those in sight, and how many there are. */
async function below<K extends keyof EntityBelow>(
  manager: EntityManager,
  kind: K,
  sight: Sight,
  column: string,
  id: number,
): Promise<{ readonly seen: EntityBelow[K][]; readonly all: number }> {
  const query = (): SelectQueryBuilder<ObjectLiteral> =>
    over(manager, LIST_KINDS[kind]).andWhere(`r.${column} = :above`, { above: id });
  const seen = recordsInSight(query(), kind, sight).orderBy('r.rankOrder', 'DESC').addOrderBy('r.id', 'DESC');
  return { seen: (await seen.getMany()) as unknown as EntityBelow[K][], all: await query().getCount() };
}

interface Below {
  readonly leads: readonly LeadEntity[];
  readonly deals: readonly DealEntity[];
  readonly contacts: readonly UnroutedEntity[];
  /** Whether all of them are in sight. */
  readonly whole: boolean;
}

async function recordsBelow(manager: EntityManager, kind: UnroutedKind, sight: Sight, id: number): Promise<Below> {
  if (kind === 'deal') return { leads: [], deals: [], contacts: [], whole: true };
  const leads = await below(manager, 'lead', sight, kind === 'contact' ? 'contact' : 'companyId', id);
  const deals = await below(manager, 'deal', sight, kind, id);
  const contacts = kind === 'company' ? await below(manager, 'contact', sight, 'company', id) : { seen: [], all: 0 };
  // Whoever sees all sees them all, whatever comes in between the two reads.
  const whole = sight.all || [leads, deals, contacts].every(({ seen, all }) => seen.length === all);
  return { leads: leads.seen, deals: deals.seen, contacts: contacts.seen, whole };
}

/**
 * A contact, company or deal with all that its page shows; the account of its score is computed for the page.
 *
 * A user who neither owns a contact or company nor sees all records below it gets its scores, and of its values and activities
 * what comes from the records that they see.
 */
export async function recordDetail(
  manager: EntityManager,
  kind: UnroutedKind,
  asked: number,
  sight: Sight,
  user: User,
  now: Date,
): Promise<RecordDetail> {
  const entity = await recordInSight(manager, kind, sight, asked);
  const { id } = entity;
  const governing = await readGoverning(manager, 'none');
  const [stored] = await loadUnrouted(manager, kind, [id], governing.ready);
  if (stored === undefined) throw Refused.notFound();
  const under = await recordsBelow(manager, kind, sight, id);
  const whole = under.whole || (entity.owner !== null && entity.owner === user.key);
  const { score, grade } = gradeRecord(governing.ready, stored.record, governing.world, now.getTime());
  const [row] = await rowsOfRecords(manager, kind, sight, [entity]);
  if (row === undefined) throw Refused.notFound();
  const grades = await ShownGrades.of(manager, under.leads);
  const rows = async (of: UnroutedKind, list: readonly UnroutedEntity[]): Promise<RecordRow[]> =>
    (await rowsOfRecords(manager, of, sight, list.slice(0, MOST))).map((one) => ({ ...one, ...NO_CELLS }));
  const history = whole
    ? await manager.find(ChangeEntity, { where: { record: id }, order: { id: 'DESC' }, take: ACTIVITIES })
    : [];
  const said = whole ? await manager.find(SaidValueEntity, { where: { record: id }, order: { field: 'ASC' } }) : [];
  return {
    ...row,
    kind,
    version: entity.version,
    closeReason: entity instanceof DealEntity ? entity.closeReason : null,
    lead: entity instanceof DealEntity ? await leadName(manager, entity.lead, sight) : null,
    values: whole ? valuesOf(stored) : await valuesSeen(manager, stored, under, governing),
    score: whole ? score : withoutAccounts(score),
    gradedNow: grade,
    asOf: now.getTime(),
    activities: await activitiesSeen(manager, id, under),
    history: history.map(changeLine),
    said: said.map(saidValue),
    ofLeads: under.leads.slice(0, MOST).map((lead): ShortLead => rowOfLead(lead, grades)),
    ofDeals: await rows('deal', under.deals),
    ofContacts: await rows('contact', under.contacts),
    knownBy: whole ? await knownBy(manager, kind, id) : [],
    leadsDue: whole && kind !== 'deal' ? await leadsDue(manager, id) : 0,
    joined: whole ? await joinedInto(manager, id) : [],
    openTasks: await manager.countBy(TaskEntity, { record: id, state: 'open' }),
    may: await rightsOnRecord(manager, kind, entity, sight, user),
    ...(await gatesOfDeal(manager, stored, governing, now)),
  };
}

/** The proposals about a deal, and why it has not moved. */
async function gatesOfDeal(
  manager: EntityManager,
  { kind, entity, record }: StoredUnrouted,
  governing: Governing,
  now: Date,
): Promise<Pick<RecordDetail, 'proposals' | 'notMoved'>> {
  if (kind !== 'deal' || !(entity instanceof DealEntity)) return { proposals: [], notMoved: [] };
  const proposals = await manager.find(ProposalEntity, {
    where: { record: entity.id },
    order: { id: 'DESC' },
    take: MOST,
  });
  return {
    proposals: proposals.map(pastProposal),
    notMoved: entity.status === 'open' ? obstaclesNow(governing, movingDeal({ entity, record }), now) : [],
  };
}

function shown(field: string, value: Value, byHand: boolean): RecordValue {
  return {
    field,
    shown: showValue(value),
    unreadable: value.kind === 'unreadable' ? value.why : null,
    byHand,
  };
}

function valuesOf({ record, origins }: StoredUnrouted): RecordValue[] {
  return [...record.values].map(([field, value]) => shown(field, value, origins.get(field) === 'hand'));
}

/** Its values as the leads in sight feed them. */
async function valuesSeen(
  manager: EntityManager,
  { kind, entity }: StoredUnrouted,
  { leads }: Below,
  { world }: Governing,
): Promise<RecordValue[]> {
  const tie = TIE_KINDS.find((one) => one === kind);
  if (tie === undefined) return [];
  const only = new Set(leads.map(({ id }) => id));
  const sayings = await sayingsOf(manager, world.fields, tie, [entity.id], only);
  return [...(sayings.get(entity.id) ?? [])].flatMap(([field, said]) => {
    const { changed } = fedValue(undefined, said, 0);
    return changed === null ? [] : [shown(field, changed.value, false)];
  });
}

/** The activities of the record itself and of those below it that are in sight, the newest first. */
async function activitiesSeen(
  manager: EntityManager,
  id: number,
  { leads, deals, contacts, whole }: Below,
): Promise<RecordDetail['activities']> {
  const names = new Map<number, TieName>(
    [...leads, ...deals, ...contacts].map((one) => [one.id, { id: one.id, name: one.name }]),
  );
  const records = [...(whole ? [id] : []), ...names.keys()];
  if (records.length === 0) return [];
  const rows = await manager
    .createQueryBuilder(ActivityEntity, 'a')
    .where('a.record IN (:...records)', { records })
    .orderBy('a.at', 'DESC')
    .addOrderBy('a.id', 'DESC')
    .limit(ACTIVITIES)
    .getMany();
  return rows.map(({ record, kind, at, properties }) => ({
    kind,
    at: at.getTime(),
    ...(properties === null ? {} : { properties }),
    record: record === id ? null : (names.get(record) ?? null),
  }));
}

async function leadsDue(manager: EntityManager, id: number): Promise<number> {
  const [row] = await manager.query<{ n: string }[]>('SELECT COUNT(*) AS n FROM tie_due WHERE cause = ?', [id]);
  return Number(row?.n ?? 0);
}

/** The lead that a deal came from, where it is in sight. */
async function leadName(manager: EntityManager, id: number | null, sight: Sight): Promise<TieName | null> {
  if (id === null) return null;
  const query = over(manager, LIST_KINDS.lead).andWhere('r.id = :id', { id });
  const lead = (await recordsInSight(query, 'lead', sight).getOne()) as LeadEntity | null;
  return lead && { id, name: lead.name || lead.company };
}

async function knownBy(manager: EntityManager, kind: UnroutedKind, id: number): Promise<RecordDetail['knownBy']> {
  switch (kind) {
    case 'contact':
      return (await manager.findBy(ContactAliasEntity, { contact: id })).map(({ folded }) => ({
        kind: 'email',
        text: folded,
      }));
    case 'company':
      return (
        await manager.find(CompanyKeyEntity, { where: { company: id }, order: { kind: 'ASC', folded: 'ASC' } })
      ).map(({ kind: of, folded }) => ({ kind: of, text: folded }));
    case 'deal':
      return [];
  }
}

async function joinedInto(manager: EntityManager, id: number): Promise<RecordDetail['joined']> {
  const joined = await manager.find(JoinedPartyEntity, { where: { older: id }, order: { at: 'DESC' } });
  return joined.map(({ id: younger, at, undo }) => ({
    id: younger,
    name: typeof undo.row['name'] === 'string' ? undo.row['name'] : '',
    at: at.getTime(),
    undoUntil: at.getTime() + PARTY_UNDO,
  }));
}

/** The names of the contact and the company of a lead, where they are in sight: whoever sees the lead sees them. */
export async function tiesOfLead(
  manager: EntityManager,
  { contact, companyId }: Pick<LeadEntity, 'contact' | 'companyId'>,
): Promise<RecordRow['ties']> {
  const [contacts, companies] = await Promise.all([
    tieNames(manager, 'contact', [contact]),
    tieNames(manager, 'company', [companyId]),
  ]);
  return { contact: contacts.get(contact ?? 0) ?? null, company: companies.get(companyId ?? 0) ?? null };
}
