import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, instant, whole } from './columns';
import { ScoredEntity } from './scored.entity';

/** A company that leads work for, and what the score sets for companies give it. */
@Entity('company')
@Index('company_by_name', ['folded'], { unique: true })
@Index('company_by_rank', ['rankOrder', 'id'])
@Index('company_by_due', ['due', 'id'])
export class CompanyEntity extends ScoredEntity {
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

  /** A lead of it changed since it was scored, or it is to be scored by the charter in force: not only time has passed. */
  @Column({ type: 'boolean' })
  touched!: boolean;

  /** Goes up with each change of a lead of it, so that no change is passed over while it is scored. */
  @Column(whole)
  changes!: number;

  /** The charter that scored it, and when; null: it was not scored yet. */
  @Column({ ...whole, nullable: true })
  charter!: number | null;

  @Column({ ...instant, nullable: true })
  scoredAt!: Date | null;
}

/** Stored names are told apart by so many characters. */
export const LONGEST_NAME = 190;
