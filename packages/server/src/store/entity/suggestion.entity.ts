import type { TieKind } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, whole } from './columns';

/** Two contacts or companies that may be one: a person decides. */
@Entity('suggestion')
@Index('suggestion_once', ['older', 'younger'], { unique: true })
@Index('suggestion_by_younger', ['younger'])
@Index('suggestion_by_age', ['settled', 'id'])
export class SuggestionEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ type: 'varchar', length: 7, charset: 'ascii', collation: 'ascii_bin' })
  kind!: TieKind;

  @Column(whole)
  older!: number;

  @Column(whole)
  younger!: number;

  @Column(instant)
  at!: Date;

  /** Somebody said that they are two. */
  @Column({ type: 'boolean' })
  settled!: boolean;
}
