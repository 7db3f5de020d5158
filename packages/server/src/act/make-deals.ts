import {
  type Cycle,
  cycleOf,
  dayFrom,
  dayNumber,
  dayOf,
  daysToClose,
  keyOfRole,
  type MadeDeal,
  stagesOf,
  type Value,
} from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import type { Governing } from '../store/governing';
import { CompanyEntity } from '../store/entity/company.entity';
import { insertRecords } from './insert-record';
import { nameByDefault } from './make-record';
import { partyKeys } from './party-keys';
import type { Outcome } from './write';

const DAY = 86_400_000;
/** The usual cycle is that of the deals won in so many days. */
const YEAR = 365 * DAY;
/** More of them tell nothing new. */
const MOST_WON = 20_000;

/** The usual sales cycle: of the deals won in the last twelve months. */
export async function usualCycle(manager: EntityManager, now: Date): Promise<Cycle> {
  const rows = await manager.query<{ days: string }[]>(
    `SELECT TIMESTAMPDIFF(SECOND, arrived, closed_at) / 86400 AS days FROM deal WHERE status = 'won' AND closed_at >= ? ORDER BY closed_at DESC LIMIT ${MOST_WON}`,
    [new Date(now.getTime() - YEAR)],
  );
  return cycleOf(rows.map(({ days }) => Number(days)));
}

/** Makes the deals that gates make of leads: with the owner, the ties and the amount of the lead. */
export async function makeDeals(
  manager: EntityManager,
  outcomes: readonly Outcome[],
  inForce: Governing,
): Promise<void> {
  // A test lead is removed without a trace: no deal is made of it.
  const asked = outcomes.flatMap((outcome) => {
    const deal = outcome.after.test ? undefined : outcome.decision?.deal;
    return deal === undefined ? [] : [{ ...outcome, deal }];
  });
  const [first] = asked;
  if (first === undefined) return;
  const cycle = asked.some(({ deal }) => deal.measured) ? await usualCycle(manager, first.act.asOf) : { days: null };
  const firms = await manager.findBy(CompanyEntity, { id: In(asked.flatMap(({ after }) => after.companyId ?? [])) });
  const stages = stagesOf(inForce.ready.charter, 'deal');
  const made = asked.map(({ act: { asOf: at, record }, after, charter, deal }) => {
    const values = valuesOf(deal, record.values, at, cycle, inForce);
    const firm = firms.find(({ id }) => id === after.companyId);
    const name = (firm?.name ?? (after.company || after.name)).slice(0, 200);
    nameByDefault('deal', name, values, inForce);
    return {
      ...{ name, owner: after.owner, values, keys: partyKeys('deal', values, inForce), alike: null },
      given: { contact: after.contact, company: after.companyId, lead: after },
      // A past charter may name a stage that is none any more: then the deal begins where deals do.
      stage: stages.find(({ key }) => key === deal.stage) ?? null,
      by: { cause: { kind: 'rule', charter, rule: deal.rule }, at, origin: 'trusted' } as const,
    };
  });
  await insertRecords(manager, 'deal', made, inForce);
}

/** The amount of the lead, and when the deal is expected to close. */
function valuesOf(
  deal: MadeDeal,
  ofLead: ReadonlyMap<string, Value>,
  at: Date,
  cycle: Pick<Cycle, 'days'>,
  { world: { fields }, ready }: Governing,
): Map<string, Value> {
  const values = new Map<string, Value>();
  const from = keyOfRole(fields, 'lead', 'amount');
  const amount = from === null ? undefined : ofLead.get(from);
  const to = keyOfRole(fields, 'deal', 'amount');
  if (to !== null && amount !== undefined && amount.kind !== 'blank') values.set(to, amount);
  const close = keyOfRole(fields, 'deal', 'close');
  const today = dayNumber(dayOf(at.getTime(), ready.charter.timeZone));
  if (close !== null) values.set(close, { kind: 'date', day: dayFrom(today + daysToClose(deal, cycle)) });
  return values;
}
