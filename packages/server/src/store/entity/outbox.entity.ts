import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json, whole } from './columns';

/** News for a person, a queue's members, or the admins. */
export interface OutboxNotice {
  readonly person: string | null;
  readonly queue: string | null;
  readonly notice:
    | 'assigned'
    | 'in-queue'
    | 'last-resort'
    | 'bay'
    | 'nobody-has-skill'
    | 'waits-long'
    | 'graded'
    /** Given away by a route that tells more than the new owner. */
    | 'routed'
    | 'rescored'
    | 'imported'
    | 'said'
    | 'asked'
    /** A task that someone else gave. */
    | 'task';
  /** The job that ended. */
  readonly job: number | null;
}

/** Something that is to leave: written with what caused it, carried out afterwards. */
@Entity('outbox')
@Index('outbox_by_due', ['state', 'nextAt', 'id'])
@Index('outbox_by_record', ['record', 'id'])
export class OutboxEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ type: 'varchar', length: 8 })
  kind!: 'notice';

  @Column(json)
  body!: OutboxNotice;

  @Column({ ...whole, nullable: true })
  record!: number | null;

  /** Parked: it failed too often; a person looks at it. */
  @Column({ type: 'varchar', length: 8 })
  state!: 'waiting' | 'done' | 'parked';

  @Column(whole)
  tries!: number;

  @Column(instant)
  nextAt!: Date;

  /** Why the last try failed. */
  @Column({ type: 'varchar', length: 500, nullable: true })
  error!: string | null;

  @Column(instant)
  at!: Date;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;
}
