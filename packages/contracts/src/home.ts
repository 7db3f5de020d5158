import type { CourseCounts, Instant, RecordKind, Status, UnroutedKind } from '@relvik/core';

export interface Attention {
  readonly what:
    | 'bay-unjudged'
    | 'bay-nobody-free'
    | 'bay-loop'
    | 'last-resort'
    /** Leads that one is asked to accept or give back. */
    | 'to-accept'
    /** Tasks of the user, and of those whom they direct, that should be done by now. */
    | 'tasks-overdue'
    /** Proposals of gates. */
    | 'to-decide'
    | 'open-ground'
    | 'queue'
    | 'draft-problems'
    /** About a past charter: leads that time does not move, since it names what is gone. */
    | 'held-back'
    | 'failing'
    | 'doctor'
    /** Contacts and companies that may be one. */
    | 'duplicates';
  readonly count: number;
  /** The oldest of them. */
  readonly since: Instant | null;
  /** A queue's key, or the fields concerned. */
  readonly about: string | null;
}

export interface Notice {
  readonly id: number;
  readonly kind: string;
  /** Null where it is about a rescore or a file. */
  readonly record: { readonly kind: RecordKind; readonly id: number } | null;
  readonly name: string;
  readonly at: Instant;
}

/** How many leads run from one part of the watershed to the next. */
export interface WatershedLink {
  /** `source:…`, `fit:…`, `stage:…` or `territory:…`; an empty name is none. */
  readonly from: string;
  /** The same, or `team:…`, `rep:…`, `queue:…`, `bay`. */
  readonly to: string;
  readonly count: number;
}
export interface Watershed {
  readonly links: readonly WatershedLink[];
}

export interface Home {
  /** The counts are right as of this instant, since with very many leads they are kept for a while; null: as of now. */
  readonly asOf: Instant | null;
  readonly watershed: Watershed;
  readonly course: CourseCounts;
  readonly attention: readonly Attention[];
  /** How many contacts, companies and open deals there are; null for who does not see all. */
  readonly others: Readonly<Record<UnroutedKind, number>> | null;
  readonly byStatus: readonly { readonly status: Status; readonly count: number }[];
  readonly byStage: readonly { readonly stage: string; readonly count: number }[];
  readonly byTerritory: readonly { readonly territory: string | null; readonly count: number }[];
  readonly bySource: readonly { readonly source: string; readonly count: number }[];
  readonly notices: readonly Notice[];
}

/** Open leads by their score of one set on each axis, for the pictures of Score and Grade. */
export interface Distribution {
  readonly fit: readonly { readonly score: number; readonly count: number }[];
  readonly engagement: readonly { readonly score: number; readonly count: number }[];
}

/** What one route did: leads that it gave away, those that wait for it, and when it gave the last one away. */
export interface RouteCounts {
  readonly leads: number;
  readonly waiting: number;
  readonly last: Instant | null;
}

/** The charter by which a route became what it is, and whose it was. */
export interface RouteChanged {
  readonly charter: number;
  readonly name: string;
  readonly by: string;
  readonly at: Instant | null;
}

/** What the rules in force came to, over all leads: counts beside territories and routes. */
export interface RuleCounts {
  readonly routes: Readonly<Record<string, RouteCounts>>;
  readonly routesChanged: Readonly<Record<string, RouteChanged>>;
  readonly territories: Readonly<Record<string, number>>;
  readonly openGround: readonly { readonly country: string; readonly count: number }[];
  readonly cells: readonly {
    readonly scoreSet: string;
    /** The keys of its bands. */
    readonly fitBand: string;
    readonly engagementBand: string;
    readonly count: number;
    readonly won: number;
    readonly closed: number;
  }[];
}
