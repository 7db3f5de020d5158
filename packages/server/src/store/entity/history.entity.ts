import type { Changed, ChangeCause } from '@relvik/contracts';
import type { CondensedDecision, Decision, Occasion } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { compressedJson, folded, instant, json, key, whole } from './columns';
import type { OutboxNotice } from './outbox.entity';

/** What people did: mails opened, pages visited, forms filled. */
@Entity('activity')
@Index('activity_by_record', ['record', 'at', 'kind'])
@Index('activity_by_kind', ['kind', 'record'])
@Index('activity_once', ['sender', 'event'], { unique: true })
export class ActivityEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  @Column(key)
  kind!: string;

  @Column(instant)
  at!: Date;

  /** What else is known of it, such as the page. */
  @Column({ ...json, nullable: true })
  properties!: Record<string, string> | null;

  /** The key, or file, that sent it, and the id it has there: a repeat is known by them. */
  @Column({ ...key, nullable: true })
  sender!: string | null;

  @Column({ ...folded, length: 120, nullable: true })
  event!: string | null;
}

/** What changed on a record, from what to what, when and by whom. */
@Entity('record_change')
@Index('record_change_by_record', ['record', 'id'])
@Index('record_change_by_time', ['field', 'at'])
export class ChangeEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  /** A field's key, or place, stage, grade, territory, status. */
  @Column(key)
  field!: string;

  /** A field's value, a place, or a key, as it was. */
  @Column({ ...json, nullable: true })
  from!: Changed;

  @Column({ ...json, nullable: true })
  to!: Changed;

  /** What a person gave as the reason. */
  @Column({ type: 'varchar', length: 500, nullable: true })
  reason!: string | null;

  @Column(instant)
  at!: Date;

  @Column({ type: 'varchar', length: 8 })
  cause!: ChangeCause;

  /** Whose hand. */
  @Column({ ...key, nullable: true })
  person!: string | null;

  /** The name of the person, or of the way in, at that time. */
  @Column({ type: 'varchar', length: 120 })
  by!: string;

  /** The charter whose rule did it, or that came into force. */
  @Column({ ...whole, nullable: true })
  charter!: number | null;

  /** The gate or route, by its key. */
  @Column({ ...key, nullable: true })
  rule!: string | null;
}

/** The form in which decisions are stored now: condensed. In format 1 they are whole; up to 2 a grade has no keys of bands, up to 3 no gate asks, up to 4 none changes values. */
export const DECISION_FORMAT = 5;

/** One decision with its reasoning. {@link decisionOf} reads it. */
@Entity('decision')
@Index('decision_by_record', ['record', 'id'])
export class DecisionEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  @Column(whole)
  charter!: number;

  @Column(instant)
  asOf!: Date;

  @Column({ type: 'varchar', length: 12 })
  occasion!: Occasion;

  @Column({ type: 'varchar', length: 90, nullable: true })
  grade!: string | null;

  @Column(key)
  stage!: string;

  /** The version of the body's form. */
  @Column({ type: 'tinyint', unsigned: true })
  format!: number;

  @Column(compressedJson)
  body!: Decision | CondensedDecision;
}

/** News for someone about a lead, or a rescore. Without a person it is for the admins. */
@Entity('notice')
@Index('notice_by_person', ['person', 'id'])
@Index('notice_once', ['outbox'], { unique: true })
export class NoticeEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ ...key, nullable: true })
  person!: string | null;

  @Column({ ...key, nullable: true })
  queue!: string | null;

  @Column({ type: 'varchar', length: 20 })
  kind!: OutboxNotice['notice'];

  @Column({ ...whole, nullable: true })
  record!: number | null;

  /** The row of the outbox that it came from: it is told once. */
  @Column({ ...whole, nullable: true })
  outbox!: number | null;

  /** The rescore or import that ended. */
  @Column({ ...whole, nullable: true })
  job!: number | null;

  @Column(instant)
  at!: Date;
}
