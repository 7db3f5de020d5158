import type { Condition } from '../condition/condition';
import type { Recipient } from '../grade/verdict';
import type { Method } from '../method/method';
import type { Respects } from '../people/eligible';
import type { FieldType } from '../record/field';
import type { RouteKey } from '../record/keys';
import type { TaskRule } from '../task/task';
import type { Destination } from './destination';

/** A field that is held against a list of skills: who gets the record has any of the words in it. A blank field asks for nothing. */
export interface SkillMatch {
  /** The key of the list. */
  readonly skill: string;
  readonly field: string;
}

/** The rule for a record when nobody at the destination of its route is free. */
export type NobodyFree =
  /** It waits in the bay until someone is. */
  | { readonly kind: 'wait' }
  /** The next route that matches is tried; when none is left, it waits for all that matched. */
  | { readonly kind: 'next-route' }
  /** It goes elsewhere, and waits if nobody is free there either. */
  | { readonly kind: 'elsewhere'; readonly to: Destination }
  /** Limits count no more; hours, skills and the rest do. */
  | { readonly kind: 'ignore-limits' };

/** The recipients that a route can notify besides the new owner. */
export const TOLD = ['manager', 'operations'] as const satisfies readonly Recipient[];
export type Told = (typeof TOLD)[number];

export interface Route {
  readonly key: RouteKey;
  readonly name: string;
  readonly on: boolean;
  readonly when: Condition;
  readonly to: Destination;
  /** Missing: round robin. */
  readonly method?: Method;
  /** Missing: both. */
  readonly respects?: Respects;
  /** Missing: none. */
  readonly skills?: readonly SkillMatch[];
  /** Tags that a record gets when the route gives it to someone or a queue. Missing: none. */
  readonly tags?: readonly string[];
  /** The recipients of a notice then, besides the new owner. Missing: none. */
  readonly tell?: readonly Told[];
  /** Tasks that the new owner gets with it. Missing: none. */
  readonly tasks?: readonly TaskRule[];
  /** Missing: as the stream says. */
  readonly nobodyFree?: NobodyFree | null;
}

export const RESPECTS_ALL: Respects = { hours: true, limit: true };

/** Fields whose words can be held against skills. */
export const SKILL_FIELD_TYPES: readonly FieldType[] = ['choice', 'choices', 'text'];
