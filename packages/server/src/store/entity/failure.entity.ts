import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { instant, key, whole } from './columns';

/** Background work that failed, or one record on which it failed: tried again with growing pauses, then parked until a person looks. */
@Entity('failure')
@Index('failure_by_due', ['work', 'parked', 'nextAt'])
export class FailureEntity {
  @PrimaryColumn(key)
  work!: string;

  /** 0: the work as a whole. */
  @PrimaryColumn(whole)
  record!: number;

  @Column(whole)
  tries!: number;

  @Column({ type: 'varchar', length: 500 })
  error!: string;

  @Column(instant)
  since!: Date;

  @Column(instant)
  nextAt!: Date;

  @Column({ type: 'boolean' })
  parked!: boolean;
}
