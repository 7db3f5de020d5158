import type {
  DaysOff,
  Instant,
  RepKey,
  RepSkill,
  RouteKey,
  Shares,
  SkillList,
  Skipped,
  Stretch,
  TeamKey,
  WorkHours,
} from '@relvik/core';
import { array, boolean, type InferType, mixed, number, object, ref, string } from 'yup';
import { type Give, type Given, givenToMembers } from './lead';
import { type Role, ROLES } from './session';
import { keyText, trimmed } from './text';

/** Someone new. */
export const makePersonSchema = object({
  name: trimmed().min(1, 'must not be empty').max(120).required(),
  email: trimmed().email('must be an e-mail').max(320).required(),
  role: string().oneOf(ROLES).required(),
  /** The team that they join; null: none yet. */
  team: keyText().nullable().defined(),
}).exact();
export interface MakePerson {
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  readonly team: string | null;
}

/** The takers of the work of someone who is retired. */
export const retirePersonSchema = object({
  leads: object(givenToMembers).exact().required(),
  /** The new owner of their open deals, contacts and companies; null: nobody. */
  heir: keyText().nullable().defined(),
}).exact();
export interface RetirePerson {
  readonly leads: Omit<Give, 'ids'>;
  readonly heir: string | null;
}
/** The places of their leads, and the people afterwards. If some leads stay, the person is not retired. */
export interface Retired {
  readonly given: Given;
  readonly people: People;
}

export const makeTeamSchema = object({ name: trimmed().min(1, 'must not be empty').max(120).required() }).exact();

/** Only the first three are required; members that are left out are not changed. */
export const changeRepSchema = object({
  mayTakeLeads: boolean().required(),
  /** Null: no limit. */
  limit: number().integer().min(0, 'must be 0 or more').max(100_000).nullable().defined(),
  whyNot: trimmed().max(200).nullable().defined(),
  /** The share in weighted turns, to two decimals. */
  weight: number().min(0.01, 'must be from 0.01 to 100').max(100, 'must be from 0.01 to 100'),
  /** As core reads them; null: those of the team. */
  hours: mixed().nullable(),
  /** A country or a part of one whose public holidays are off; null: none are. */
  holidaysOf: string().max(20).nullable(),
  daysOff: mixed(),
  away: boolean(),
  /** The taker-over of their open leads while they are off; null: nobody. */
  deputy: keyText().nullable(),
  /** Whether they get those leads back. */
  getsBack: boolean(),
  skills: mixed(),
}).exact();
export interface ChangeRep {
  readonly mayTakeLeads: boolean;
  readonly limit: number | null;
  readonly whyNot: string | null;
  readonly weight?: number;
  readonly hours?: WorkHours | null;
  readonly holidaysOf?: string | null;
  readonly daysOff?: readonly DaysOff[];
  readonly away?: boolean;
  readonly deputy?: string | null;
  readonly getsBack?: boolean;
  readonly skills?: readonly RepSkill[];
}

/** Presence and days off, which everyone sets for themselves. */
export const changePresenceSchema = object({ away: boolean().required(), daysOff: mixed().required() }).exact();
export interface ChangePresence {
  readonly away: boolean;
  readonly daysOff: readonly DaysOff[];
}

export const changeTeamSchema = object({
  /** Missing: as it is. */
  name: trimmed().min(1, 'must not be empty').max(120),
  /** Those of the members who lead it. Missing: who led it, as far as they are in it. */
  leaders: array().of(string().max(48).required()).max(100),
  paused: boolean().required(),
  /** Null: none. */
  parent: string().max(48).nullable().defined(),
  hours: mixed().nullable().defined(),
  /** In order of joining: the order of turns. */
  members: array().of(string().max(48).required()).max(2000).required(),
}).exact();
export interface ChangeTeam {
  readonly name?: string;
  readonly leaders?: readonly string[];
  readonly paused: boolean;
  readonly parent: string | null;
  readonly hours: WorkHours | null;
  readonly members: readonly string[];
}

export const changeSkillsSchema = object({
  name: trimmed().min(1).max(120).required(),
  words: array().of(trimmed().min(1).max(120).required()).max(500).required(),
}).exact();
export type ChangeSkills = Pick<SkillList, 'name' | 'words'>;

export interface PersonRow {
  readonly key: string;
  readonly name: string;
  /** Told to admins only; null: not told. */
  readonly email: string | null;
  readonly role: Role;
  readonly mayTakeLeads: boolean;
  readonly whyNot: string | null;
  readonly limit: number | null;
  readonly weight: number;
  /** Their own; null: those of their team. */
  readonly hours: WorkHours | null;
  readonly holidaysOf: string | null;
  readonly daysOff: readonly DaysOff[];
  readonly away: boolean;
  /** Takes over their open leads while they are off; null: nobody. */
  readonly deputy: string | null;
  readonly getsBack: boolean;
  readonly skills: readonly RepSkill[];
  /** The time zone of the hours that count for them; null: they work at any hour. */
  readonly zone: string | null;
  /** When they work again; null: they work now, or not within three years. */
  readonly backAt: number | null;
  readonly worksNow: boolean;
  readonly open: number;
  readonly teams: readonly string[];
}

export interface TeamRow {
  readonly key: string;
  readonly name: string;
  readonly leaders: readonly string[];
  readonly members: readonly string[];
  readonly open: number;
  readonly parent: string | null;
  readonly paused: boolean;
  readonly hours: WorkHours | null;
}

export const QUEUE_ORDERS = ['oldest', 'rank'] as const;
export type QueueOrder = (typeof QUEUE_ORDERS)[number];

export const changeQueueSchema = object({
  name: trimmed().min(1).max(120).required(),
  /** The order in which leads are picked: longest waiting first, or best rank first. */
  order: string().oneOf(QUEUE_ORDERS).required(),
  /** How many of its leads one person may hold; null: as many as they like. */
  mostHeld: number().integer().min(1, 'must be 1 or more').max(10_000).nullable().defined(),
  members: array().of(string().max(48).required()).max(2000).required(),
}).exact();
export interface ChangeQueue {
  readonly name: string;
  readonly order: QueueOrder;
  readonly mostHeld: number | null;
  readonly members: readonly string[];
}

export interface QueueRow extends ChangeQueue {
  readonly key: string;
  readonly waiting: number;
  /** How many of its leads the user holds. */
  readonly held: number;
}

/** People, as far as the user sees them. */
export interface People {
  readonly people: readonly PersonRow[];
  readonly teams: readonly TeamRow[];
  readonly queues: readonly QueueRow[];
  readonly skills: readonly SkillList[];
}

export const fairnessQuerySchema = object({
  /** The last 30 days, or since the charter in force came into force. */
  since: string().oneOf(['days', 'charter']).default('days'),
}).exact();
export interface FairnessQuery {
  readonly since: 'days' | 'charter';
}

/** The shares of a route's leads; people outside the user's sight are left out. */
export interface RouteFairness extends Shares {
  readonly route: RouteKey;
}
export interface Fairness {
  readonly since: Instant;
  /** It reaches no further back: only so many decisions are looked through. */
  readonly cut: boolean;
  /** Routes that choose among several people, in order. */
  readonly routes: readonly RouteFairness[];
  /** Why someone would be passed over at this moment, whatever route. */
  readonly now: readonly Skipped[];
}

/** A place whose public holidays are known. */
export interface HolidayPlace {
  readonly key: string;
  readonly name: string;
}

/** The longest span of a team’s working time that is told at once. */
const MOST_DAYS = 15;

export const weekQuerySchema = object({
  team: string().max(48).required(),
  /** Instants, in milliseconds; the span is half-open. */
  from: number().integer().min(0).max(8.64e15).required(),
  to: number()
    .integer()
    .moreThan(ref('from'), 'must be after its beginning')
    .required()
    .test('span', `must be at most ${MOST_DAYS} days after its beginning`, function (to) {
      const { from } = this.parent as { readonly from: number };
      return to - from <= MOST_DAYS * 86_400_000;
    }),
}).exact();
export type WeekQuery = InferType<typeof weekQuerySchema>;

/** The working time of someone within a span, and how things stand with them now. */
export interface WeekMember {
  readonly key: RepKey;
  readonly away: boolean;
  /** Null: they work at any hour. */
  readonly zone: string | null;
  /** Half-open, in order; days off and public holidays are left out. */
  readonly stretches: readonly Stretch[];
  readonly daysOff: readonly DaysOff[];
  readonly worksNow: boolean;
  /** When they work again; null: they do now, or not in sight. */
  readonly backAt: Instant | null;
  readonly open: number;
  readonly limit: number | null;
  /** Routes whose next lead would be theirs. */
  readonly next: readonly RouteKey[];
}

/** The members of a team who may take leads, over some days. */
export interface TeamWeek {
  readonly team: TeamKey;
  readonly paused: boolean;
  readonly now: Instant;
  readonly members: readonly WeekMember[];
}
