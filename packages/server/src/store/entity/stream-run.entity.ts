import type { Schedule } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';

/** The schedule that a stream in force has, and since when: runs that were due before that are not made up for. */
@Entity('stream_schedule')
export class StreamScheduleEntity {
  @PrimaryColumn(key)
  stream!: string;

  @Column(json)
  schedule!: Schedule;

  @Column(instant)
  since!: Date;
}

/** A run of a stream over the leads that wait for it. */
@Entity('stream_run')
@Index('stream_run_one', ['stream', 'running'], { unique: true })
@Index('stream_run_due', ['stream', 'due'], { unique: true })
export class StreamRunEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(key)
  stream!: string;

  /** True while it runs, else null: the unique index lets one run at a time. */
  @Column({ type: 'boolean', nullable: true })
  running!: true | null;

  /** When its schedule let it begin; null: a person did. */
  @Column({ ...instant, nullable: true })
  due!: Date | null;

  @Column({ ...key, nullable: true })
  person!: string | null;

  /** The name of who began it. */
  @Column({ type: 'varchar', length: 120, nullable: true })
  by!: string | null;

  @Column({ type: 'varchar', length: 8, charset: 'ascii', collation: 'ascii_bin' })
  state!: 'running' | 'stopped' | 'done';

  @Column(instant)
  startedAt!: Date;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;

  /** The number of leads when it began, and the highest id of a lead then. */
  @Column(whole)
  leads!: number;

  @Column(whole)
  upto!: number;

  /** The id of the last lead that it went over. */
  @Column(whole)
  reached!: number;

  @Column(whole)
  done!: number;

  @Column(whole)
  given!: number;

  @Column(whole)
  failed!: number;
}
