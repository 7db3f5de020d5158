import type { Decision, Occasion } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { folded, instant, json, key, whole } from './columns';

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
export class ChangeEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  /** A field's key, or owner, place, stage, grade, territory, status. */
  @Column(key)
  field!: string;

  @Column({ type: 'text', nullable: true })
  from!: string | null;

  @Column({ type: 'text', nullable: true })
  to!: string | null;

  @Column(instant)
  at!: Date;

  @Column({ type: 'varchar', length: 120 })
  by!: string;
}

/** One decision with its whole reasoning. */
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

  @Column(json)
  body!: Decision;
}

/** News for someone about a lead, or a rescore. Without a person it is for the admins. */
@Entity('notice')
@Index('notice_by_person', ['person', 'id'])
export class NoticeEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ ...key, nullable: true })
  person!: string | null;

  @Column({ ...key, nullable: true })
  queue!: string | null;

  @Column({ type: 'varchar', length: 20 })
  kind!: 'assigned' | 'in-queue' | 'last-resort' | 'bay' | 'rescored';

  @Column({ ...whole, nullable: true })
  record!: number | null;

  /** The rescore that ended. */
  @Column({ ...whole, nullable: true })
  job!: number | null;

  @Column(instant)
  at!: Date;
}
