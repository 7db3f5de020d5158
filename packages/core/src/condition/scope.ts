import type { ActivityKinds } from '../activity/activity-kind';
import type { Catalogue } from '../record/catalogue';
import type { BandAxis } from './subject';

/** Where a condition stands: what it may ask about depends on it. */
export const RULE_PLACES = ['signal', 'gate', 'route', 'list'] as const;
export type RulePlace = (typeof RULE_PLACES)[number];

/** The subjects that a condition may ask about at its place. */
export interface Scope {
  readonly place: RulePlace;
  /** The record's own fields. */
  readonly fields: Catalogue;
  readonly baseCurrency: string;
  /** The kinds of activities. */
  readonly kinds: ActivityKinds;
  /** The keys of those who can own a record. */
  readonly owners: readonly string[];
  /** The keys of the teams. */
  readonly teams: readonly string[];
  /** The keys of the score sets. */
  readonly sets: readonly string[];
  /** The keys of the bands of all sets, by axis. */
  readonly bands: Readonly<Record<BandAxis, readonly string[]>>;
  readonly stages: readonly string[];
  readonly territories: readonly string[];
  /** By the key of each territory those inside it, itself included. */
  readonly inside: ReadonlyMap<string, readonly string[]>;
}

/** A scope of fields alone, as signals have it. */
export function fieldScope(fields: Catalogue, baseCurrency: string): Scope {
  return {
    place: 'signal',
    fields,
    baseCurrency,
    kinds: new Map(),
    owners: [],
    teams: [],
    sets: [],
    bands: { fit: [], engagement: [] },
    stages: [],
    territories: [],
    inside: new Map(),
  };
}
