import type { Skipped } from '../method/method';
import type { Exclusion } from '../people/eligible';
import { momentText } from '../record/day';
import type { Instant, RepKey } from '../record/keys';
import type { Names } from './names';

/**
 * The condition under which someone can be given a lead: "from Mon 30 Nov 08:00".
 *
 * @param zone in which hours are told
 * @returns null where nothing of that kind is foreseen: they take no leads
 */
export function freeingWords(exclusion: Exclusion, names: Names, zone: string): string | null {
  switch (exclusion.why) {
    case 'away':
      return 'once here again';
    case 'team-paused':
      return `once ${names.team(exclusion.team)} goes on`;
    case 'lacks-skill':
      return `given ${exclusion.asked.join(' or ')} (${names.skill(exclusion.skill)})`;
    case 'outside-hours':
      return exclusion.next === null ? null : `from ${momentText(exclusion.next, zone)}`;
    case 'not-present':
      return 'once signed in and seen';
    case 'at-limit':
      return exclusion.limit === 0
        ? 'given a limit above 0'
        : `once one of ${exclusion.open} open leads is closed, or the limit of ${exclusion.limit} is raised`;
    case 'may-not-take-leads':
    case 'not-here':
    case 'gave-back':
    case 'not-available':
      return null;
  }
}

/** The first of those passed over to work again, and when; null: none of them is outside their hours. */
export function firstToWork(skipped: readonly Skipped[]): { readonly rep: RepKey; readonly at: Instant } | null {
  let first: { readonly rep: RepKey; readonly at: Instant } | null = null;
  for (const { rep, exclusion } of skipped) {
    if (exclusion.why !== 'outside-hours' || exclusion.next === null) continue;
    if (first === null || exclusion.next < first.at) first = { rep, at: exclusion.next };
  }
  return first;
}
