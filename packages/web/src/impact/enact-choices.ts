import type { EnactScope, Reach } from '@relvik/core';

/** How far an enact goes, to choose from. */
export const REACH_CHOICES: readonly { readonly value: Reach; readonly label: string }[] = [
  { value: 'score', label: 'score and grade' },
  { value: 'gates', label: 'and gates' },
  { value: 'routes', label: 'and gates and routes' },
];

/** Which records an enact is for, to choose from. */
export const SCOPE_CHOICES: readonly { readonly value: string; readonly label: string }[] = [
  { value: 'all', label: 'all leads' },
  { value: '3', label: 'touched in the last 3 months' },
  { value: '6', label: 'touched in the last 6 months' },
  { value: '12', label: 'touched in the last 12 months' },
  { value: 'new', label: 'only new ones' },
];

/** The scope that one of the choices stands for. */
export function scopeNamed(value: string): EnactScope {
  return value === 'all' || value === 'new' ? { which: value } : { which: 'touched', months: Number(value) };
}
