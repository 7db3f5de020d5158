import { Entity, Index, PrimaryColumn } from 'typeorm';
import { key, whole } from './columns';
import { SetScoreEntity } from './scored.entity';

/** What a score set gives a record beside the one that grades it. */
@Entity('side_score')
@Index('side_score_by_rank', ['scoreSet', 'rankOrder', 'record'])
@Index('side_score_by_fit', ['scoreSet', 'fit', 'record'])
@Index('side_score_by_engagement', ['scoreSet', 'engagement', 'record'])
export class SideScoreEntity extends SetScoreEntity {
  @PrimaryColumn(whole)
  record!: number;

  @PrimaryColumn(key)
  scoreSet!: string;
}
