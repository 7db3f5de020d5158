import type { Answer, VerdictKey } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, instant, key, whole } from '../database/columns';

/** A company that leads work for, and what the score sets for companies give it. */
@Entity('company')
@Index('company_by_name', ['folded'], { unique: true })
@Index('company_by_rank', ['rankOrder', 'id'])
@Index('company_by_due', ['due', 'id'])
export class CompanyEntity {
  @PrimaryColumn(whole)
  id!: number;

  /** As its newest lead writes it. */
  @Column({ type: 'varchar', length: 200 })
  name!: string;

  /** By which leads are told to work for it. */
  @Column({ ...folded, length: 190 })
  folded!: string;

  /** When it has to be scored next: at once where a lead of it changed; null: never. */
  @Column({ ...instant, nullable: true })
  due!: Date | null;

  /** Goes up with each change of a lead of it, so that no change is passed over while it is scored. */
  @Column(whole)
  changes!: number;

  @Column({ type: 'varchar', length: 8 })
  admitted!: Answer;

  @Column({ ...key, nullable: true })
  scoreSet!: string | null;

  @Column({ type: 'double', nullable: true })
  fit!: number | null;

  @Column({ type: 'double', nullable: true })
  engagement!: number | null;

  /** The rank, or a number below every rank where there is none. */
  @Column({ type: 'double' })
  rankOrder!: number;

  @Column({ type: 'tinyint', unsigned: true, nullable: true })
  fitBand!: number | null;

  @Column({ type: 'tinyint', unsigned: true, nullable: true })
  engagementBand!: number | null;

  @Column({ type: 'varchar', length: 90, nullable: true })
  grade!: string | null;

  @Column({ type: 'varchar', length: 16, nullable: true })
  verdict!: VerdictKey | null;

  /** The charter that scored it, and when; null: it was not scored yet. */
  @Column({ ...whole, nullable: true })
  charter!: number | null;

  @Column({ ...instant, nullable: true })
  scoredAt!: Date | null;
}

/** Stored names are told apart by so many characters. */
export const LONGEST_NAME = 190;
