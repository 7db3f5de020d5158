import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { instant, whole } from './columns';

/** An open record whose contact or company changed in what the charter in force reads of it: it is decided again. */
@Entity('tie_due')
@Index('tie_due_by_cause', ['cause'])
@Index('tie_due_by_age', ['at', 'record'])
export class TieDueEntity {
  @PrimaryColumn(whole)
  record!: number;

  /** The contact or company that changed. */
  @Column(whole)
  cause!: number;

  /** How many changes across ties led to this one. */
  @Column({ type: 'tinyint', unsigned: true })
  chain!: number;

  @Column(instant)
  at!: Date;
}
