import { withChoices } from './choices';
import { takesAnyOption } from './field';
import { BLANK, type Value } from './value';

/** What an inquiry changes on the lead it joins. */
export interface Joined {
  readonly values: ReadonlyMap<string, Value>;
  readonly changed: readonly string[];
  /** Fields in which it says something else that is not taken: it stands beside what is known, for a person to take over. */
  readonly beside: readonly string[];
}

/**
 * Joins an inquiry to an open lead of the same person. What is left blank erases nothing.
 *
 * From a trusted way in, what is newly said replaces what was known, unless it can't be read; tags are added. Any other way in fills blanks
 * only: whoever knows an e-mail may not rewrite what is known of its lead.
 */
export function joinInquiry(
  known: ReadonlyMap<string, Value>,
  inquiry: ReadonlyMap<string, Value>,
  trusted: boolean,
): Joined {
  const values = new Map(known);
  const changed: string[] = [];
  const beside: string[] = [];
  for (const [field, value] of inquiry) {
    const before = known.get(field) ?? BLANK;
    if (value.kind === 'blank' || sameValue(before, value)) continue;
    if (trusted && takesAnyOption({ key: field }) && before.kind === 'choices' && value.kind === 'choices') {
      const all = withChoices(before.texts, value.texts);
      if (all.folded === before.folded) continue;
      values.set(field, { kind: 'choices', ...all });
      changed.push(field);
      continue;
    }
    const replaces = trusted && (value.kind !== 'unreadable' || before.kind === 'unreadable');
    if (before.kind === 'blank' || replaces) {
      values.set(field, value);
      changed.push(field);
    } else beside.push(field);
  }
  return { values, changed, beside };
}

/** Whether two values say the same; the day on which an amount was entered is not part of what it says. */
export function sameValue(a: Value | undefined, b: Value | undefined): boolean {
  if (a === undefined || b === undefined || a.kind === 'blank' || b.kind === 'blank') {
    return (a?.kind ?? 'blank') === 'blank' && (b?.kind ?? 'blank') === 'blank';
  }
  switch (a.kind) {
    case 'text':
      return b.kind === 'text' && a.text === b.text;
    case 'choices':
      return b.kind === 'choices' && a.folded === b.folded;
    case 'number':
      return b.kind === 'number' && a.scaled === b.scaled;
    case 'money':
      return b.kind === 'money' && a.minor === b.minor && a.currency === b.currency;
    case 'yes-no':
      return b.kind === 'yes-no' && a.yes === b.yes;
    case 'date':
      return b.kind === 'date' && a.day === b.day;
    case 'unreadable':
      return b.kind === 'unreadable' && a.raw === b.raw;
  }
}
