declare const kind: unique symbol;

/** A string that stands for one kind of thing and can't be handed over as another. */
export type Key<Kind extends string> = string & { readonly [kind]: Kind };

export type RepKey = Key<'rep'>;
export type TeamKey = Key<'team'>;
export type QueueKey = Key<'queue'>;
export type RouteKey = Key<'route'>;
export type TerritoryKey = Key<'territory'>;
export type StageKey = Key<'stage'>;

/** Milliseconds since 1970-01-01T00:00:00Z. */
export type Instant = number;

/** A calendar day, `YYYY-MM-DD`. Days compare as text. */
export type Day = string;
