import { fold } from '../record/fold';
import type { Instant, TeamKey } from '../record/keys';
import { calendarOf } from './calendars';
import type { Organisation, Rep, Rota } from './people';

/** Why someone can't be given a lead. */
export type Exclusion =
  | { readonly why: 'may-not-take-leads' }
  | { readonly why: 'away' }
  | { readonly why: 'team-paused'; readonly team: TeamKey }
  | { readonly why: 'lacks-skill'; readonly skill: string; readonly asked: readonly string[] }
  /** `next` is when they work again; null: not within three years. */
  | { readonly why: 'outside-hours'; readonly next: Instant | null }
  /** `seen` is when they were last seen; null: they are not signed in. */
  | { readonly why: 'not-present'; readonly seen: Instant | null }
  | { readonly why: 'at-limit'; readonly open: number; readonly limit: number }
  | { readonly why: 'not-here' }
  /** They had it, and gave it back. */
  | { readonly why: 'gave-back' }
  /** What a rep is told of a colleague instead of the reason. */
  | { readonly why: 'not-available' };

/** The restrictions that a route can switch off. */
export interface Respects {
  readonly hours: boolean;
  readonly limit: boolean;
  /** Signed in, and seen lately. Missing: no. */
  readonly presence?: boolean;
}

/** Required skills from one list: any of these words, folded. */
export interface SkillAsk {
  readonly skill: string;
  readonly words: readonly string[];
}

/** The conditions under which a rep is eligible for a record. */
export interface Demand {
  readonly at: Instant;
  readonly respects: Respects;
  readonly skills: readonly SkillAsk[];
}

/** Someone is present who was seen less than this ago, ms. */
export const SEEN_LATELY = 10 * 60_000;

/**
 * Whether a rep can be given one more lead: they may take leads ∧ are here ∧ have the skills ∧ work at that hour ∧ are present ∧ are below their
 * limit, the last three where the route respects them. Who has the limit 0 takes none in any case.
 *
 * @param rep `undefined` when nobody of that key is here any more
 * @returns null when they can, else why not: the first thing in this order
 */
export function exclusionOf(
  rep: Rep | undefined,
  people: Organisation,
  { loads, seen }: Pick<Rota, 'loads' | 'seen'>,
  { at, respects, skills }: Demand,
): Exclusion | null {
  if (rep === undefined) return { why: 'not-here' };
  if (!rep.mayTakeLeads) return { why: 'may-not-take-leads' };
  if (rep.away === true) return { why: 'away' };
  for (const ask of skills) if (!hasSkill(rep, ask)) return { why: 'lacks-skill', skill: ask.skill, asked: ask.words };
  const presence = respects.presence === true;
  // Where it is not known who is signed in, those who work are.
  if (respects.hours || (presence && seen === undefined)) {
    const calendar = calendarOf(rep, people);
    if (!calendar.isWorking(at)) return { why: 'outside-hours', next: calendar.nextStart(at) };
  }
  if (presence && seen !== undefined) {
    const last = seen.get(rep.key) ?? null;
    if (last === null || at - last >= SEEN_LATELY) return { why: 'not-present', seen: last };
  }
  const { limit } = rep;
  if (limit === null || (limit > 0 && !respects.limit)) return null;
  const open = loads.get(rep.key) ?? 0;
  return open >= limit ? { why: 'at-limit', open, limit } : null;
}

/** Whether someone has any of the words asked. */
export function hasSkill(rep: Rep, { skill, words }: SkillAsk): boolean {
  const has = skillsOf(rep).get(skill);
  return has !== undefined && words.some((word) => has.has(word));
}

const folded = new WeakMap<Rep, ReadonlyMap<string, ReadonlySet<string>>>();

function skillsOf(rep: Rep): ReadonlyMap<string, ReadonlySet<string>> {
  const known = folded.get(rep);
  if (known !== undefined) return known;
  const found = new Map((rep.skills ?? []).map(({ skill, has }) => [skill, new Set(has.map(fold))]));
  folded.set(rep, found);
  return found;
}
