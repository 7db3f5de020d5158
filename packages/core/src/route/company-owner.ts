import type { Condition } from '../condition/condition';
import type { Facts } from '../condition/facts';
import type { ReadyCondition } from '../condition/ready';
import { isTied } from '../condition/tied-fields';
import type { RepKey } from '../record/keys';
import type { RecordKind } from '../record/kind';
import { BLANK, type Value } from '../record/value';
import type { Destination } from './destination';
import type { Route } from './route';

/** Key of the owner of a record's company among what is read across its ties: the key of that person as text. No field has it. */
export const COMPANY_OWNER = 'company.owner';

/** The value under {@link COMPANY_OWNER}. */
export function companyOwnerValue(owner: string | null): Value {
  return owner === null ? BLANK : { kind: 'text', text: owner, folded: owner };
}

/** The owner of a record's company; null: it has no company, or nobody owns it. */
function companyOwnerIn(facts: Pick<Facts, 'value'>): RepKey | null {
  const value = facts.value(COMPANY_OWNER);
  return value.kind === 'text' ? (value.text as RepKey) : null;
}

/** Keys of all that the rules for a kind may read across ties, among the keys of all fields. */
export function readAcrossTies(fields: Iterable<string>, kind: RecordKind): string[] {
  const across = [...fields].filter((key) => isTied(key, kind));
  return kind === 'lead' ? [...across, COMPANY_OWNER] : across;
}

const UNOWNED = { test: 'blank', subject: { kind: 'field', field: COMPANY_OWNER } } as const;
const READY_UNOWNED: ReadyCondition = { kind: 'blank', subject: UNOWNED.subject, source: UNOWNED };

/** The condition of a route: one that leads to the owner of the company takes only records whose company has an owner. */
export function conditionOfRoute({ to, when }: Pick<Route, 'to' | 'when'>): Condition {
  return to.kind === 'company-owner' ? { test: 'all', of: [{ test: 'not', of: UNOWNED }, when] } : when;
}

/** The same as {@link conditionOfRoute}, of a condition that is bound. */
export function readyConditionOfRoute(to: Destination, ready: ReadyCondition): ReadyCondition {
  return to.kind === 'company-owner' ? { kind: 'all', of: [{ kind: 'not', of: READY_UNOWNED }, ready] } : ready;
}

/** A destination as it is for one record: the owner of its company is a person; where its company has none, it is left as it is. */
export function leadingTo(
  to: Destination,
  facts: Pick<Facts, 'value'>,
): { readonly to: Destination; readonly asOwner?: true } {
  const rep = to.kind === 'company-owner' ? companyOwnerIn(facts) : null;
  return rep === null ? { to } : { to: { kind: 'rep', rep }, asOwner: true };
}
