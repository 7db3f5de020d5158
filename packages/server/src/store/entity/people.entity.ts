import type { QueueOrder, Role } from '@relvik/contracts';
import type { DaysOff, RepKey, RepSkill, WorkHours } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, instant, json, key, whole } from './columns';

@Entity('person')
@Index('person_by_email', ['email'], { unique: true })
export class PersonEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column({ ...folded, length: 320 })
  email!: string;

  @Column({ type: 'varchar', length: 8 })
  role!: Role;

  /** scrypt; see session/password.ts. */
  @Column({ type: 'varchar', length: 200, charset: 'ascii', collation: 'ascii_bin' })
  password!: string;

  @Column({ type: 'boolean' })
  mayTakeLeads!: boolean;

  @Column({ type: 'varchar', length: 200, nullable: true })
  whyNot!: string | null;

  /** Most open leads; null: no limit. */
  @Column({ ...whole, nullable: true })
  takes!: number | null;

  @Column({ type: 'boolean' })
  retired!: boolean;

  /** The share in weighted turns, in hundredths. */
  @Column({ ...whole, default: 100 })
  weight!: number;

  /** Null: those of the team. */
  @Column({ ...json, nullable: true })
  hours!: WorkHours | null;

  /** The place whose public holidays are off; null: none are. */
  @Column({ type: 'varchar', length: 20, nullable: true })
  holidaysOf!: string | null;

  /** Null: none. */
  @Column({ ...json, nullable: true })
  daysOff!: readonly DaysOff[] | null;

  /** They said that they are not here. */
  @Column({ type: 'boolean', default: false })
  away!: boolean;

  /** Takes over their open leads while they are off; null: nobody. */
  @Column({ ...key, nullable: true })
  deputy!: string | null;

  /** Whether they get back what a deputy took over. */
  @Column({ type: 'boolean', default: true })
  getsBack!: boolean;

  /** Null: none. */
  @Column({ ...json, nullable: true })
  skills!: readonly RepSkill[] | null;
}

@Entity('team')
export class TeamEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  /** The team inside which it lies. */
  @Column({ ...key, nullable: true })
  parent!: string | null;

  /** Nobody gets leads as a member of it. */
  @Column({ type: 'boolean', default: false })
  paused!: boolean;

  /** The hours of members who have none of their own; null: none. */
  @Column({ ...json, nullable: true })
  hours!: WorkHours | null;
}

/** A list of skills: languages, say. */
@Entity('skill_list')
export class SkillListEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column(json)
  words!: readonly string[];
}

@Entity('team_member')
export class TeamMemberEntity {
  @PrimaryColumn(key)
  team!: string;

  @PrimaryColumn(key)
  person!: string;

  /** Order of joining. */
  @Column(whole)
  joined!: number;

  @Column({ type: 'boolean' })
  leads!: boolean;
}

@Entity('queue')
export class QueueEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  /** The order in which leads are picked: longest waiting first, or best rank first. */
  @Column({ type: 'varchar', length: 6, default: 'oldest' })
  order!: QueueOrder;

  /** How many of its leads one person may hold; null: as many as they like. */
  @Column({ ...whole, nullable: true })
  mostHeld!: number | null;
}

@Entity('queue_member')
export class QueueMemberEntity {
  @PrimaryColumn(key)
  queue!: string;

  @PrimaryColumn(key)
  person!: string;
}

/** Open leads of a rep: locked while someone is chosen. */
@Entity('rep_load')
export class RepLoadEntity {
  @PrimaryColumn(key)
  rep!: string;

  @Column({ type: 'int' })
  open!: number;

  /** When they last got a lead, in ms since 1970, later for who got one later; null: never. */
  @Column({ type: 'bigint', nullable: true })
  lastGiven!: string | null;
}

/** Turns of a route: locked while someone is chosen. */
@Entity('rota')
export class RotaEntity {
  /** The key of a route, or that with `~` behind it: where it leads when nobody is free. */
  @PrimaryColumn({ ...key, length: 49 })
  route!: string;

  @Column({ ...key, nullable: true })
  lastServed!: RepKey | null;

  @Column({ ...json, nullable: true })
  order!: RepKey[] | null;

  /** Of weighted turns: what each of `order` has in hand. */
  @Column({ ...json, nullable: true })
  credits!: number[] | null;
}

@Entity('session')
@Index('session_by_expiry', ['expires'])
export class SessionEntity {
  /** SHA-256 of the token in the cookie. */
  @PrimaryColumn({ type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin' })
  hash!: string;

  @Column(key)
  person!: string;

  @Column({ type: 'char', length: 43, charset: 'ascii', collation: 'ascii_bin' })
  csrf!: string;

  @Column(instant)
  expires!: Date;
}

/** When someone who is signed in was last seen; who signs out has none. */
@Entity('rep_seen')
export class RepSeenEntity {
  @PrimaryColumn(key)
  rep!: string;

  @Column(instant)
  at!: Date;
}

/** Wrong passwords for an account, from one address or from anywhere; told apart by a hash of both. */
@Entity('sign_in_pause')
@Index('sign_in_pause_by_age', ['last'])
export class SignInPauseEntity {
  @PrimaryColumn({ type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin' })
  hash!: string;

  @Column(whole)
  failures!: number;

  @Column(instant)
  last!: Date;

  /** Until then no try is made. */
  @Column(instant)
  until!: Date;
}

/** Requests from one address within a minute; told apart by a hash of what is counted and the address. */
@Entity('request_count')
@Index('request_count_by_end', ['ends'])
export class RequestCountEntity {
  @PrimaryColumn({ type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin' })
  hash!: string;

  @Column(whole)
  hits!: number;

  /** In ms since 1970. */
  @Column({ type: 'bigint', unsigned: true })
  ends!: string;
}
