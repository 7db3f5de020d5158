import type { DaysOff, RepSkill, SkillList, WorkHours } from '@relvik/core';
import { array, boolean, mixed, number, object, string } from 'yup';
import type { Role } from './session';
import { trimmed } from './text';

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
  readonly skills?: readonly RepSkill[];
}

/** Presence and days off, which everyone sets for themselves. */
export const changePresenceSchema = object({ away: boolean().required(), daysOff: mixed().required() }).exact();
export interface ChangePresence {
  readonly away: boolean;
  readonly daysOff: readonly DaysOff[];
}

export const changeTeamSchema = object({
  paused: boolean().required(),
  /** Null: none. */
  parent: string().max(48).nullable().defined(),
  hours: mixed().nullable().defined(),
  /** In order of joining: the order of turns. */
  members: array().of(string().max(48).required()).max(2000).required(),
}).exact();
export interface ChangeTeam {
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
  /** What is picked next: what has waited longest, or what ranks best. */
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

/** A place whose public holidays are known. */
export interface HolidayPlace {
  readonly key: string;
  readonly name: string;
}
