import { type Decision, enteredAt, fold, type Occasion, type Place, showValue, type Value } from '@relvik/core';
import { LONGEST_NAME } from '../store/entity/company.entity';
import type { LeadEntity } from '../store/entity/lead.entity';
import { scoredColumns } from '../store/entity/scored.entity';
import { placeOf } from '../store/load-leads';
import type { Act } from './act';
import { wayOf } from './cause';

/** Occasions on which something happens with the lead itself. */
export const TOUCHING: readonly Occasion[] = ['created', 'joined', 'edited', 'activity'];

/** Whether two places are the same, with all that is said of them. */
export function samePlace(a: Place, b: Place): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

export function textOf(value: Value | undefined, most: number): string {
  return value === undefined ? '' : showValue(value).slice(0, most);
}

/** The company's name, folded; null: none is named. */
export function companyKeyOf(record: Act['record']): string | null {
  return fold(textOf(record.values.get('company'), LONGEST_NAME)).slice(0, LONGEST_NAME) || null;
}

/** The identity of a record, by its values. */
function namesOf(record: Act['record']): Pick<LeadEntity, 'name' | 'company' | 'companyKey' | 'email'> {
  const email = record.values.get('email');
  return {
    name: textOf(record.values.get('name'), 200),
    company: textOf(record.values.get('company'), 200),
    companyKey: companyKeyOf(record),
    email: email?.kind === 'text' ? fold(email.text).slice(0, 320) : null,
  };
}

function placeColumns(place: Place): Pick<LeadEntity, 'place' | 'owner' | 'queue' | 'bay' | 'bayTeam'> {
  const nowhere = { place: place.kind, owner: null, queue: null, bay: null, bayTeam: null };
  switch (place.kind) {
    case 'owner':
      return { ...nowhere, owner: place.rep };
    case 'queue':
      return { ...nowhere, queue: place.queue };
    case 'bay':
      return { ...nowhere, bay: place.reason, bayTeam: place.reason.why === 'nobody-free' ? place.reason.team : null };
    case 'not-handed-over':
      return nowhere;
  }
}

function closingGate(decision: Decision): string | null {
  const last = decision.gates.moves.at(-1);
  return last === undefined ? null : `Gate ${last.gate}`;
}

/**
 * The lead as it is stored after a decision.
 *
 * @param changesAt when anything that is asked of it changes by itself; null: it is closed
 */
export function leadAfter(
  { record, stored, test, asOf, cause }: Act,
  decision: Decision,
  changesAt: Date | null,
  charter: number,
): LeadEntity {
  const moved = stored === null || !samePlace(placeOf(stored), decision.place);
  const closes = record.standing.status === 'open' && decision.status !== 'open';
  const named = namesOf(record);
  const match = decision.routing?.match;
  return {
    id: Number(record.id),
    version: (stored?.version ?? 0) + 1,
    ...named,
    // A test stands apart from the leads that are known.
    openEmail: decision.status === 'open' && !(stored?.test ?? test) ? named.email : null,
    status: decision.status,
    stage: decision.stage,
    stageSince: new Date(enteredAt(record, decision.gates.moves.length > 0, asOf.getTime())),
    ...placeColumns(decision.place),
    since: moved ? asOf : stored.since,
    ...scoredColumns(decision),
    territory: 'territory' in decision.territory ? decision.territory.territory : null,
    pin: record.standing.pin,
    route: match?.kind === 'matched' ? match.route : (stored?.route ?? null),
    looks: Object.fromEntries(decision.gates.looks),
    arrived: new Date(record.arrived),
    touchedAt: stored === null || TOUCHING.includes(decision.occasion) ? asOf : stored.touchedAt,
    way: stored?.way ?? wayOf(cause),
    test: stored?.test ?? test,
    charter,
    decidedAt: asOf,
    changesAt,
    closedAt: closes ? asOf : (stored?.closedAt ?? null),
    closeReason: closes ? closingGate(decision) : (stored?.closeReason ?? null),
  };
}

/** A closed lead whose values were changed: nothing is decided. */
export function leadKept(stored: LeadEntity, record: Act['record']): LeadEntity {
  return { ...stored, ...namesOf(record), version: stored.version + 1 };
}

/** The lead as it is stored after a hand moved or closed it. */
export function leadMoved(
  stored: LeadEntity,
  { place, closing }: Extract<Act['change'], { kind: 'move' }>,
  asOf: Date,
): LeadEntity {
  return {
    ...stored,
    version: stored.version + 1,
    ...placeColumns(place),
    since: asOf,
    touchedAt: asOf,
    ...(closing === null
      ? {}
      : { status: closing.outcome, closedAt: asOf, closeReason: closing.reason, openEmail: null, changesAt: null }),
  };
}
