import { dayFrom, dayNumber, dayOf, type Raw, showValue } from '@relvik/core';
import { type DataSource, IsNull, Not } from 'typeorm';
import { editRecord } from '../act/change-record';
import type { Hand } from '../act/hand';
import { addKnownBy } from '../act/known-by';
import { makeRecord } from '../act/make-record';
import { moveDeal } from '../act/move-deal';
import { ownRecord } from '../act/own-record';
import { touchUnrouted } from '../act/touch-parties';
import { tendUnrouted } from '../job/tend-unrouted';
import { Refused } from '../problem/refused';
import type { User } from '../session/session-store';
import { CompanyEntity } from '../store/entity/company.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { loadLeads } from '../store/load-leads';
import { insertRows } from '../store/rows';

const DAY = 86_400_000;
const ADMIN: User = { key: 'admin', name: 'Runa Vestmar', role: 'admin' };

/** Companies that are worked before anyone there is known. */
const UNKNOWN_PEOPLE: readonly Readonly<Record<string, Raw>>[] = [
  { 'company.name': 'Skagen Vandforsyning', 'company.country': 'Denmark', 'company.industry': 'Waterworks' },
  { 'company.name': 'Loch Torr Salmon', 'company.country': 'United Kingdom', 'company.industry': 'Fish farm' },
  { 'company.name': 'Brauhaus Sonnwend', 'company.country': 'Austria', 'company.industry': 'Brewery' },
];

const REASONS = ['Budget moved to next year', 'Went with the cheaper offer', 'No answer after three tries'] as const;

/**
 * Work by hand on contacts, companies and deals during the days of the demo: companies entered before anyone there is known, a few
 * marked as key accounts, and deals made of leads that got that far.
 */
export async function keepRecords(source: DataSource, now: Date): Promise<void> {
  await tendUnrouted(source, now);
  const hand = (daysAgo: number): Hand => ({ user: ADMIN, at: new Date(now.getTime() - daysAgo * DAY) });
  for (const [i, values] of UNKNOWN_PEOPLE.entries()) await makeRecord(source, 'company', { values }, hand(20 - 5 * i));
  await keyAccounts(source, hand(30));
  await customers(source, hand(30));
  await deals(source, now);
  await tendUnrouted(source, now);
}

/** The companies with the most leads, and what else one of them is called. */
async function keyAccounts(source: DataSource, hand: Hand): Promise<void> {
  const largest = await source.query<{ id: number }[]>(
    'SELECT company_id AS id FROM `lead` WHERE company_id IS NOT NULL GROUP BY company_id ORDER BY COUNT(*) DESC, company_id LIMIT 5',
  );
  for (const [i, { id }] of largest.entries()) {
    const company = await source.manager.findOneByOrFail(CompanyEntity, { id });
    const renewal = dayFrom(dayNumber(dayOf(hand.at.getTime(), 'UTC')) + 60 + 45 * i);
    const values = { 'company.key_account': 'yes', 'company.renewal': renewal };
    await editRecord(source, 'company', id, { version: company.version, values }, hand);
    if (i === 0) await addKnownBy(source, id, { kind: 'name', text: `${company.name} Group` }, hand);
  }
}

/** Companies that bought more than once belong to whoever sold to them then. */
async function customers(source: DataSource, { user }: Hand): Promise<void> {
  const won = await source.manager.find(LeadEntity, {
    where: { status: 'won', test: false, companyId: Not(IsNull()), owner: Not(IsNull()) },
    order: { closedAt: 'ASC', id: 'ASC' },
  });
  const bought = new Map<number, number>();
  for (const { companyId: company, owner, closedAt } of won) {
    if (company === null) continue;
    const times = (bought.get(company) ?? 0) + 1;
    bought.set(company, times);
    if (times !== 2) continue;
    try {
      await ownRecord(source, 'company', company, owner, { user, at: closedAt ?? new Date(0) });
    } catch (error) {
      // The seller has left.
      if (!(error instanceof Refused)) throw error;
    }
  }
}

/** Deals of leads that were won, that were lost late, and that are being worked on. */
async function deals(source: DataSource, now: Date): Promise<void> {
  const { manager } = source;
  const leads = await manager.find(LeadEntity, {
    where: [
      { status: 'won', test: false },
      { status: 'lost', test: false, stage: 'qualified' },
      { status: 'open', test: false, stage: 'qualified', place: 'owner' },
    ],
    order: { id: 'ASC' },
  });
  const chosen = leads.filter(({ status, id }) => id % (status === 'won' ? 2 : status === 'lost' ? 6 : 4) === 0);
  const stored = new Map(
    (
      await loadLeads(
        manager,
        chosen.map(({ id }) => id),
        'none',
      )
    ).map((one) => [one.entity.id, one]),
  );
  for (const lead of chosen) {
    const began = lead.closedAt === null ? lead.since.getTime() : lead.closedAt.getTime() - (9 + (lead.id % 31)) * DAY;
    const from = new Date(Math.min(now.getTime() - DAY, Math.max(began, lead.arrived.getTime()) + DAY / 4));
    const amount = stored.get(lead.id)?.record.values.get('deal_value');
    const product = stored.get(lead.id)?.record.values.get('product');
    const close = dayFrom(dayNumber(dayOf(from.getTime(), 'UTC')) + 40 + (lead.id % 50));
    const values: Record<string, Raw> = {
      ...(amount === undefined || lead.id % 15 === 0 ? {} : { 'deal.amount': showValue(amount) }),
      ...(product === undefined ? {} : { 'deal.product': showValue(product) }),
      'deal.close': close,
    };
    try {
      const id = await makeRecord(source, 'deal', { values, lead: lead.id }, { user: ADMIN, at: from });
      await runDeal(source, id, lead, from, now);
    } catch (error) {
      // A lead whose owner has left can't pass it on.
      if (!(error instanceof Refused)) throw error;
    }
  }
}

/** Calls and meetings about a deal, and the stages that it has passed by now. */
async function runDeal(source: DataSource, id: number, lead: LeadEntity, from: Date, now: Date): Promise<void> {
  const user: User = { key: lead.owner ?? 'admin', name: lead.owner ?? 'admin', role: 'admin' };
  const span = Math.max(DAY, (lead.closedAt ?? now).getTime() - from.getTime());
  const at = (share: number): Date => new Date(Math.min(now.getTime(), from.getTime() + share * span));
  await insertRows(source.manager, ActivityEntity, [
    { record: id, kind: 'call_taken', at: at(0.2), properties: null },
    ...(lead.id % 3 === 0 ? [{ record: id, kind: 'meeting_held', at: at(0.6), properties: null }] : []),
  ]);
  const move = (stage: string, share: number, reason: string | null = null): Promise<void> =>
    moveDeal(source, id, { stage, reason }, { user, at: at(share) });
  const passed = lead.status === 'open' ? lead.id % 3 : 2;
  if (passed > 0) await move('deal-survey', 0.3);
  if (passed > 1) await move('deal-offer', 0.7);
  if (lead.status === 'won') await move('deal-won', 1);
  if (lead.status === 'lost') await move('deal-lost', 1, REASONS[lead.id % REASONS.length]);
  // Gates ask about the meetings held meanwhile.
  await touchUnrouted(source.manager, 'deal', [id], at(0.6));
}
