import type { Instant } from '../record/keys';
import type { Activity } from '../record/record';
import { hasProperties, happeningKey, type PropertyTest } from './property-test';

/** Something that happened: activities of a kind, with certain properties, in a window. */
export interface Happening {
  readonly activity: string;
  readonly having: readonly PropertyTest[];
  /** Only in so many days of 24 hours up to the moment asked about; null: ever. */
  readonly within: number | null;
}

const DAY = 86_400_000;

/**
 * How often something happened up to an instant.
 *
 * The window is (asOf − within, asOf]: what happened exactly at its beginning no longer counts.
 */
export function timesHappened(
  { activity, having, within }: Happening,
  activities: readonly Activity[],
  asOf: Instant,
): number {
  const after = within === null ? -Infinity : asOf - within * DAY;
  return activities.filter(
    (one) => one.kind === activity && one.at > after && one.at <= asOf && hasProperties(one, having),
  ).length;
}

/** The instants at which a count may be another than before: something happens, or leaves the window. */
export function happeningTurns(
  { activity, having, within }: Happening,
  activities: readonly Activity[],
): readonly Instant[] {
  return activities
    .filter((one) => one.kind === activity && hasProperties(one, having))
    .flatMap(({ at }) => (within === null ? [at] : [at, at + within * DAY]));
}

/** A text that tells one happening apart from every other. */
export function happeningText({ activity, having, within }: Happening): string {
  return `${happeningKey(activity, having)} ${within ?? 'ever'}`;
}
