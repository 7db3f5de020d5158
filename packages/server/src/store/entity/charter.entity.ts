import type { JournalAct } from '@relvik/contracts';
import type { Charter, EnactScope, Reach } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';

/** Every charter: the one in force, drafts and past ones. */
@Entity('charter')
@Index('charter_one_in_force', ['inForce'], { unique: true })
@Index('charter_by_number', ['number'], { unique: true })
export class CharterEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  /** True for the one in force, else null: the unique index keeps it to one. */
  @Column({ type: 'boolean', nullable: true })
  inForce!: true | null;

  /** Given when it comes into force; a draft has none. */
  @Column({ ...whole, nullable: true })
  number!: number | null;

  /** The number of the charter it was copied from; 0 for the first. */
  @Column(whole)
  base!: number;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column(json)
  body!: Charter;

  @Column(whole)
  version!: number;

  @Column({ type: 'varchar', length: 120 })
  author!: string;

  @Column(instant)
  changedAt!: Date;

  @Column({ ...instant, nullable: true })
  enactedAt!: Date | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  reason!: string | null;

  /** What the draft is for. */
  @Column({ type: 'varchar', length: 500, nullable: true })
  note!: string | null;
}

/** The draft that someone has open: one at most. */
@Entity('open_draft')
@Index('open_draft_by_charter', ['charter'])
export class OpenDraftEntity {
  @PrimaryColumn(key)
  person!: string;

  @Column(whole)
  charter!: number;
}

/** Who did what with which charter, when and why. */
@Entity('journal')
@Index('journal_by_charter', ['charter', 'id'])
export class JournalEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(instant)
  at!: Date;

  @Column({ type: 'varchar', length: 120 })
  by!: string;

  @Column({ type: 'varchar', length: 12 })
  act!: JournalAct;

  @Column(whole)
  charter!: number;

  @Column({ ...whole, nullable: true })
  number!: number | null;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column({ type: 'varchar', length: 500, nullable: true })
  why!: string | null;
}

/** A rescore, kept so that it goes on after a restart. */
@Entity('job')
@Index('job_by_state', ['state', 'id'])
export class JobEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ type: 'varchar', length: 12 })
  state!: 'running' | 'done' | 'cancelled' | 'failed';

  @Column(whole)
  charter!: number;

  @Column(whole)
  total!: number;

  @Column(whole)
  done!: number;

  @Column(whole)
  changed!: number;

  /** Records that could not be rescored: left out, and kept among the failures. */
  @Column(whole)
  failed!: number;

  /** Why it ended as failed. */
  @Column({ type: 'varchar', length: 500, nullable: true })
  error!: string | null;

  /** Which records, and how far. */
  @Column(json)
  scope!: EnactScope;

  @Column({ type: 'varchar', length: 8 })
  reach!: Reach;

  /** Whether gates and routes make their tasks for the records of it. */
  @Column({ type: 'boolean', default: true })
  tasks!: boolean;

  /** The last record that was looked at. */
  @Column(whole)
  cursor!: number;

  @Column({ type: 'varchar', length: 120 })
  startedBy!: string;

  /** Whom to tell at the end; null where nobody is. */
  @Column({ ...key, nullable: true })
  starter!: string | null;

  @Column(instant)
  startedAt!: Date;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;
}
