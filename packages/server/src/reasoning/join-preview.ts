import { type JoinPreview, type LeadRow, NO_CELLS } from '@relvik/contracts';
import { showValue } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { differences, pairOf } from '../act/join-leads';
import { rowOfLead } from '../list/lead-list';
import { ShownGrades } from '../list/shown-grades';
import { Refused } from '../problem/refused';
import { loadLeads } from '../store/load-leads';

/** The effect of joining two leads. */
export async function previewJoin(manager: EntityManager, id: number, other: number): Promise<JoinPreview<LeadRow>> {
  const [one, two] = await loadLeads(manager, [id, other], 'none');
  if (one === undefined || two === undefined)
    throw Refused.as('cannot-join', { detail: 'Choose two different leads.' });
  const pair = pairOf(one, two);
  const grades = await ShownGrades.of(manager, [one.entity, two.entity]);
  const row = (lead: typeof one): LeadRow =>
    Object.assign(rowOfLead(lead.entity, grades), { ...NO_CELLS, asks: [], waits: [] });
  return {
    older: row(pair.older),
    younger: row(pair.younger),
    fields: differences(pair).map(({ field, older, younger }) => ({
      field,
      older: older === null ? null : showValue(older),
      younger: showValue(younger),
      // The later value is the more likely one, if it can be read.
      takesYounger: younger.kind !== 'unreadable',
    })),
    activities: pair.younger.record.activities.length,
  };
}
