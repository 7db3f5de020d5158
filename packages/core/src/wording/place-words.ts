import type { Exclusion } from '../people/eligible';
import type { BayReason } from '../record/bay';
import { momentText } from '../record/day';
import type { Place } from '../record/place';
import type { TerritoryAnswer } from '../territory/coverage';
import type { Names } from './names';

/**
 * A grade as the history keeps it, by the keys of its bands: `b/active` is "B active". What was kept before bands had keys
 * are the words themselves.
 */
export function gradeWords(kept: string, names: Names): string {
  const [fit, engagement, ...more] = kept.split('/');
  return fit === undefined || engagement === undefined || more.length > 0
    ? kept
    : `${names.fitBand(fit)} ${names.engagementBand(engagement)}`;
}

/**
 * Why someone was skipped.
 *
 * @param zone in which the hour is told at which they work again
 */
export function exclusionWords(exclusion: Exclusion, names: Names, zone = 'UTC'): string {
  switch (exclusion.why) {
    case 'may-not-take-leads':
      return 'may not take leads';
    case 'away':
      return 'is away';
    case 'team-paused':
      return `${names.team(exclusion.team)} is paused`;
    case 'lacks-skill':
      return `does not have ${exclusion.asked.join(' or ')} (${names.skill(exclusion.skill)})`;
    case 'outside-hours':
      return exclusion.next === null ? 'does not work' : `does not work until ${momentText(exclusion.next, zone)}`;
    case 'not-present':
      return exclusion.seen === null ? 'is not signed in' : `was last seen ${momentText(exclusion.seen, zone)}`;
    case 'at-limit':
      return `has ${exclusion.open} open leads, the limit is ${exclusion.limit}`;
    case 'gave-back':
      return 'gave it back';
    case 'not-here':
      return 'is not here any more';
    case 'not-available':
      return 'not available';
  }
}

/** Why people are skipped, where they are counted by it. */
export const EXCLUSION_NAMES: Readonly<Record<Exclusion['why'], string>> = {
  'may-not-take-leads': 'may not take leads',
  away: 'away',
  'team-paused': 'team paused',
  'lacks-skill': 'without the skill',
  'outside-hours': 'outside hours',
  'not-present': 'not signed in',
  'at-limit': 'at the limit',
  'gave-back': 'gave it back',
  'not-here': 'not here any more',
  'not-available': 'not available',
};

/** Why a lead waits in the bay. */
export function bayWords(reason: BayReason, names: Names): string {
  switch (reason.why) {
    case 'nobody-free': {
      const { rep, team, also = [] } = reason;
      const routes = [reason.route, ...also].map((route) => `“${names.route(route)}”`);
      const matches = routes.length === 1 ? `Route ${routes[0]} matches` : `Routes ${routes.join(', ')} match`;
      if (also.length > 0) return `${matches}, but nobody is free`;
      if (rep !== null) return `${matches}, but ${names.rep(rep)} is not free`;
      return `${matches}, but nobody ${team === null ? 'it leads to' : `in ${names.team(team)}`} is free`;
    }
    case 'scheduled':
      return `Route “${names.route(reason.route)}” matches, and gives away when its stream runs`;
    case 'unjudged':
      return `Can’t be judged: ${reason.fields.map((field) => names.field(field)).join(', ')}`;
    case 'loop':
      return `Runs in a circle through ${[...new Set(reason.gates)].map((gate) => `“${names.gate(gate)}”`).join(', ')}`;
  }
}

/** Where a lead is. */
export function placeWords(place: Place, names: Names): string {
  switch (place.kind) {
    case 'owner':
      return names.rep(place.rep);
    case 'queue':
      return `Queue ${names.queue(place.queue)}`;
    case 'bay':
      return `Bay: ${bayWords(place.reason, names)}`;
    case 'not-handed-over':
      if (place.reason !== undefined) return `Not handed over: ${place.reason}`;
      return place.verdict === null ? 'Not handed over' : `Not handed over: ${names.verdict(place.verdict)}`;
  }
}

const PART_WORDS = { country: 'country', region: 'region', postalCode: 'postal code' } as const;

/** How the territory came about. */
export function territoryWords(answer: TerritoryAnswer, names: Names): string {
  switch (answer.found) {
    case 'covered':
      return `${names.territory(answer.territory)}${answer.by === undefined ? '' : `, by its ${PART_WORDS[answer.by]}`}`;
    case 'pinned':
      return `${names.territory(answer.territory)}, pinned by hand`;
    case 'open-ground':
      return 'open ground: no territory covers the address';
    case 'no-address':
      return 'none: no country is given';
    case 'unjudged':
      return `can’t be told: “${answer.raw}” is not a ${PART_WORDS[answer.part ?? 'country']}`;
  }
}
