import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { key, whole } from '../database/columns';

/** What a score set gives a record beside the one that grades it; null: an axis can't be judged. */
@Entity('side_score')
@Index('side_score_by_rank', ['scoreSet', 'rankOrder', 'record'])
@Index('side_score_by_fit', ['scoreSet', 'fit', 'record'])
@Index('side_score_by_engagement', ['scoreSet', 'engagement', 'record'])
export class SideScoreEntity {
  @PrimaryColumn(whole)
  record!: number;

  @PrimaryColumn(key)
  scoreSet!: string;

  @Column({ type: 'double', nullable: true })
  fit!: number | null;

  @Column({ type: 'double', nullable: true })
  engagement!: number | null;

  /** The rank that the set gives, or a number below every rank where there is none: lists are ordered by it. */
  @Column({ type: 'double' })
  rankOrder!: number;
}
