import type { Way } from '@relvik/core';

/** What made something happen: a person's hand, a way in by its name, a charter that came into force, or Relvik itself. */
export type Cause =
  | { readonly kind: 'hand'; readonly person: string; readonly name: string }
  | { readonly kind: 'form' | 'api' | 'csv'; readonly name: string }
  | { readonly kind: 'charter'; readonly charter: number }
  /** A gate, by its key. */
  | { readonly kind: 'rule'; readonly charter: number; readonly rule: string }
  /** Time that passed, someone who is free now, or a repair. */
  | { readonly kind: 'relvik' };

/** A cause that brings leads in. */
export type WayIn = Extract<Cause, { kind: 'hand' | 'form' | 'api' | 'csv' }>;

/** The way in of a lead that a cause brings. */
export function wayOf({ kind }: Cause): Way {
  return kind === 'charter' || kind === 'rule' || kind === 'relvik' ? 'hand' : kind;
}

export const RELVIK: Cause = { kind: 'relvik' };

export function handOf({ key, name }: { readonly key: string; readonly name: string }): WayIn {
  return { kind: 'hand', person: key, name };
}
