import type { Accepted, AcceptedRecord, ActivityOutcome } from '@relvik/contracts';
import type { Handling, Way } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { handling, instant, json, key, whole } from './columns';

const hash = { type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin' } as const;

/** A key with which another system may send leads. */
@Entity('intake_key')
@Index('intake_key_by_hash', ['hash'], { unique: true })
export class IntakeKeyEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ type: 'varchar', length: 80 })
  name!: string;

  @Column(hash)
  hash!: string;

  @Column({ type: 'varchar', length: 12 })
  begins!: string;

  @Column(json)
  fields!: string[];

  @Column(instant)
  createdAt!: Date;

  @Column({ ...instant, nullable: true })
  lastUsedAt!: Date | null;

  @Column({ type: 'boolean' })
  revoked!: boolean;

  /** Trusted: its values replace those of an open lead; else they fill blanks only. */
  @Column({ type: 'boolean' })
  trusted!: boolean;

  /** The pipeline into which its leads come; null, or one that is no more: the first. */
  @Column({ ...key, nullable: true })
  pipeline!: string | null;

  /** How far rules are asked of its leads. */
  @Column(handling)
  handling!: Handling;
}

/** What was answered to a request, so that its repetition has no effect. Kept for 24 hours. */
@Entity('answered_request')
@Index('answered_request_by_age', ['at'])
export class AnsweredRequestEntity {
  /** The key or person that sent it, or `form` for a form's one-time token. */
  @PrimaryColumn({ type: 'varchar', length: 60, charset: 'ascii', collation: 'ascii_bin' })
  sender!: string;

  @PrimaryColumn({ type: 'varchar', length: 120, collation: 'utf8mb4_nopad_bin' })
  request!: string;

  /** SHA-256 of the body: another body under the same key is refused. */
  @Column(hash)
  body!: string;

  @Column(json)
  answer!: Accepted | AcceptedRecord | ActivityOutcome;

  @Column(instant)
  at!: Date;
}

/** A hosted form. */
@Entity('form')
export class FormEntity {
  @PrimaryColumn(key)
  slug!: string;

  @Column({ type: 'varchar', length: 120 })
  title!: string;

  @Column({ type: 'varchar', length: 500 })
  intro!: string;

  @Column({ type: 'varchar', length: 500 })
  thanks!: string;

  @Column(json)
  fields!: { key: string; required: boolean }[];

  /** Values that the form sets by itself, such as the source. */
  @Column(json)
  sets!: Record<string, string>;

  @Column(whole)
  received!: number;

  /** As for a key; anyone can fill a form in. */
  @Column({ type: 'boolean' })
  trusted!: boolean;

  /** The pipeline into which its leads come; null, or one that is no more: the first. */
  @Column({ ...key, nullable: true })
  pipeline!: string | null;

  @Column(handling)
  handling!: Handling;
}

/** Settings of a way in as a whole: of leads typed in by hand. */
@Entity('way_in')
export class WayInEntity {
  @PrimaryColumn({ type: 'varchar', length: 8, charset: 'ascii', collation: 'ascii_bin' })
  way!: Way;

  @Column(handling)
  handling!: Handling;
}

/** With which the tokens of forms are signed: one row. */
@Entity('form_secret')
export class FormSecretEntity {
  @PrimaryColumn({ type: 'tinyint', unsigned: true })
  id!: 1;

  @Column({ type: 'varchar', length: 60, charset: 'ascii', collation: 'ascii_bin' })
  secret!: string;
}

/** Which key sent a lead: it may say by its id what else happens with it. */
@Entity('sent_lead')
export class SentLeadEntity {
  @PrimaryColumn(whole)
  key!: number;

  @PrimaryColumn(whole)
  record!: number;
}
