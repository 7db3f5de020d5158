import type { Exclusion } from '../people/eligible';
import type { BayReason } from '../record/bay';
import type { Place } from '../record/place';
import type { Destination } from '../route/route';
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

/** Why someone was skipped. */
export function exclusionWords(exclusion: Exclusion): string {
  switch (exclusion.why) {
    case 'may-not-take-leads':
      return 'may not take leads';
    case 'at-limit':
      return `has ${exclusion.open} open leads, the limit is ${exclusion.limit}`;
    case 'not-here':
      return 'is not here any more';
    case 'not-available':
      return 'not available';
  }
}

/** Why a lead waits in the bay. */
export function bayWords(reason: BayReason, names: Names): string {
  switch (reason.why) {
    case 'nobody-free': {
      const who = reason.rep === null ? `nobody in ${names.team(reason.team ?? '')}` : names.rep(reason.rep);
      return `Route “${names.route(reason.route)}” matches, but ${who} ${reason.rep === null ? 'is free' : 'is not free'}`;
    }
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
      return place.verdict === null ? 'Not handed over' : `Not handed over: ${names.verdict(place.verdict)}`;
  }
}

/** Where a route leads. */
export function destinationWords(to: Destination, names: Names): string {
  switch (to.kind) {
    case 'rep':
      return names.rep(to.rep);
    case 'team':
      return `${names.team(to.team)}, round robin`;
    case 'queue':
      return `queue ${names.queue(to.queue)}`;
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
