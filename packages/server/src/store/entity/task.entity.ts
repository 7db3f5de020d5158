import type { TaskState, TaskWork } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, key, whole } from './columns';

const word = { type: 'varchar', length: 10, charset: 'ascii', collation: 'ascii_bin' } as const;

/** Something to be done about a record by a time. */
@Entity('task')
@Index('task_by_owner', ['owner', 'state', 'due', 'id'])
@Index('task_by_record', ['record', 'state', 'due', 'id'])
@Index('task_by_due', ['state', 'due', 'id'])
@Index('task_by_end', ['endedAt', 'id'])
@Index('task_by_deputy', ['deputyFor'])
export class TaskEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  /** Goes up with each change, so that nobody's change is overwritten silently. */
  @Column(whole)
  version!: number;

  @Column({ type: 'varchar', length: 200 })
  title!: string;

  @Column(word)
  work!: TaskWork;

  @Column(instant)
  due!: Date;

  /** Null: the record has no owner. */
  @Column({ ...key, nullable: true })
  owner!: string | null;

  /** Someone who is away, and for whom its owner stands in; null: for nobody, or the record came along and goes back with it. */
  @Column({ ...key, nullable: true })
  deputyFor!: string | null;

  @Column(word)
  state!: TaskState;

  @Column({ type: 'varchar', length: 500, nullable: true })
  result!: string | null;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;

  /** The name of the person who ended it, at that time; empty: Relvik did. */
  @Column({ type: 'varchar', length: 120 })
  endedBy!: string;

  /** The name of the person who made it, at that time; empty: a rule did. */
  @Column({ type: 'varchar', length: 120 })
  madeBy!: string;

  @Column(instant)
  madeAt!: Date;

  /** The gate or route that made it, by its key, and the charter that it belongs to. */
  @Column({ ...key, nullable: true })
  rule!: string | null;

  @Column({ ...whole, nullable: true })
  charter!: number | null;
}
