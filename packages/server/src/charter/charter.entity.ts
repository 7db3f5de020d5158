import type { Charter } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json, whole } from '../database/columns';

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

  /** The last record that was looked at. */
  @Column(whole)
  cursor!: number;

  @Column({ type: 'varchar', length: 120 })
  startedBy!: string;

  @Column(instant)
  startedAt!: Date;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;
}
