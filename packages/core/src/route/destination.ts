import type { QueueKey, RepKey, TeamKey } from '../record/keys';

/** Where a route leads. Of several people one is chosen by the route's method. */
export type Destination =
  /** Nobody gets it: competitors, students. */
  | { readonly kind: 'nobody'; readonly reason: string }
  | { readonly kind: 'rep'; readonly rep: RepKey }
  /** Some people, in the order given. */
  | { readonly kind: 'reps'; readonly reps: readonly RepKey[] }
  /** `inside`: also the members of the teams inside it. Missing: no. */
  | { readonly kind: 'team'; readonly team: TeamKey; readonly inside?: boolean }
  /** Everyone who has the skills that the route asks for. */
  | { readonly kind: 'skilled' }
  /** Whoever owns the company of the record. A route that leads there matches only where somebody does. */
  | { readonly kind: 'company-owner' }
  | { readonly kind: 'queue'; readonly queue: QueueKey }
  /**
   * A team whose manager hands on: until then records are in a queue. After `minutes` of working time of the manager one of the team
   * is chosen by the route's method; null: they stay in the queue.
   */
  | { readonly kind: 'handed-on'; readonly team: TeamKey; readonly queue: QueueKey; readonly minutes: number | null };

/** Whether one of several people has to be chosen. */
export function choosesAmong({ kind }: Destination): boolean {
  return kind === 'reps' || kind === 'team' || kind === 'skilled';
}
