import { gradeKey } from '../store/entity/scored.entity';
import { type Decision, isByHand, type Occasion, type Place, type Value } from '@relvik/core';
import type { ChangeEntity } from '../store/entity/history.entity';
import type { LeadEntity } from '../store/entity/lead.entity';
import { placeOf } from '../store/load-leads';
import { type Act, tasksOf } from './act';
import type { Cause } from './cause';
import { samePlace } from './lead-after';

type By = Pick<ChangeEntity, 'cause' | 'person' | 'by' | 'charter' | 'rule'>;

/** A cause, as its columns. */
export function byCause(cause: Cause): By {
  const nobody = { cause: cause.kind, person: null, by: '', charter: null, rule: null };
  switch (cause.kind) {
    case 'hand':
      return { ...nobody, person: cause.person, by: cause.name };
    case 'form':
    case 'api':
    case 'csv':
      return { ...nobody, by: cause.name };
    case 'charter':
      return { ...nobody, charter: cause.charter };
    case 'rule':
      return byRule(cause.charter, cause.rule);
    case 'relvik':
      return nobody;
  }
}

/** A rule of a charter, as its columns. */
export function byRule(charter: number, rule: string | null): By {
  return { cause: 'rule', person: null, by: '', charter, rule };
}

/** Occasions on which a hand lets a route choose. */
const BY_HAND: readonly Occasion[] = ['given', 'given-back'];

/** The lines of history that an act leaves: what changed, from what to what, and by whom or which rule. */
export function changesOf(
  act: Act,
  after: LeadEntity,
  decision: Decision | null,
  charter: number,
): Partial<ChangeEntity>[] {
  const { stored, asOf, cause, values, valuesBefore, change } = act;
  const changes: Partial<ChangeEntity>[] = [];
  const note = (
    field: string,
    from: string | Value | Place | null,
    to: string | Value | Place | null,
    by: By,
    reason: string | null = null,
  ): void => {
    changes.push({ record: after.id, field, from, to, reason, at: asOf, ...by });
  };
  const hand = byCause(cause);
  if (stored !== null)
    for (const [field, value] of values) note(field, valuesBefore.get(field) ?? null, blankAsNull(value), hand);

  const placeBefore = stored === null ? null : placeOf(stored);
  const placeAfter = placeOf(after);
  const hasMoved = placeBefore === null || !samePlace(placeBefore, placeAfter);
  if (change.kind === 'move') {
    if (hasMoved) note('place', placeBefore, placeAfter, hand, change.reason);
    if (change.closing !== null)
      note('status', stored?.status ?? null, change.closing.outcome, hand, change.closing.reason);
    if (change.reopens !== undefined) {
      note('status', stored?.status ?? null, 'open', hand, change.reason);
      if (stored !== null && stored.stage !== after.stage) note('stage', stored.stage, after.stage, hand);
    }
    return changes;
  }
  if (decision === null) return changes;
  const { pin } = act.record.standing;
  if (stored !== null && stored.pin !== pin) note('pin', stored.pin, pin, hand, change.pinReason ?? null);
  const rule = byRule(charter, null);
  decision.gates.moves.forEach(({ from, to, gate }, i) => {
    // A person made the first move.
    if (i === 0 && change.person !== null && change.person.kind !== 'gives')
      note('stage', from, to, { ...hand, rule: gate }, change.person.reason);
    else note('stage', from, to, byRule(charter, gate));
  });
  for (const { field, value, gate } of decision.gates.changes)
    note(field, act.record.values.get(field) ?? null, blankAsNull(value), byRule(charter, gate));
  for (const { title, rule: maker } of tasksOf(act, decision)) note('task', null, title, byRule(charter, maker));
  const { tagged } = decision;
  if (tagged !== undefined) {
    const { field, value } = tagged;
    const before = decision.gates.changes.find((one) => one.field === field)?.value ?? act.record.values.get(field);
    note(field, before ?? null, value, rule, 'added by the route');
  }
  const [gradeBefore, grade] = [stored === null ? null : gradeKey(stored), gradeKey(after)];
  if (gradeBefore !== grade) note('grade', gradeBefore, grade, rule);
  if ((stored?.territory ?? null) !== after.territory)
    // Redrawn by the charter that came into force, or moved with its address.
    note('territory', stored?.territory ?? null, after.territory, cause.kind === 'charter' ? hand : rule);
  if (hasMoved) {
    const broughtIn = stored === null && act.record.standing.place?.kind === 'owner' && decision.place.kind === 'owner';
    const match = decision.routing?.match;
    const route = match?.kind === 'matched' && !isByHand(match.route) ? (decision.placedBy ?? match.route) : null;
    note(
      'place',
      placeBefore,
      placeAfter,
      broughtIn ? hand : BY_HAND.includes(decision.occasion) ? { ...hand, rule: route } : byRule(charter, route),
      change.placeReason ?? null,
    );
  }
  // A new lead is open: only another status is worth a line.
  if ((stored?.status ?? 'open') !== after.status)
    note('status', stored?.status ?? 'open', after.status, byRule(charter, decision.gates.moves.at(-1)?.gate ?? null));
  return changes;
}

export function blankAsNull(value: Value): Value | null {
  return value.kind === 'blank' ? null : value;
}
