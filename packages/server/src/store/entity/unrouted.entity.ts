import { Column, PrimaryColumn } from 'typeorm';
import { instant, key, whole } from './columns';
import { NO_RANK, ScoredEntity } from './scored.entity';

/** A record that no route hands over: a contact, a company, a deal. */
export abstract class UnroutedEntity extends ScoredEntity {
  @PrimaryColumn(whole)
  id!: number;

  /** Goes up with each change by hand, so that nobody's edit is overwritten silently. */
  @Column(whole)
  version!: number;

  @Column({ type: 'varchar', length: 200 })
  name!: string;

  @Column({ ...key, nullable: true })
  owner!: string | null;

  /** When it was made, or the first of its leads came in. */
  @Column(instant)
  arrived!: Date;

  /** When something last happened with it, or with a lead of it. */
  @Column(instant)
  touchedAt!: Date;

  /** When it has to be scored next: at once where something happened to it; null: never. */
  @Column({ ...instant, nullable: true })
  due!: Date | null;

  /** Something happened since it was scored, or it is to be scored by the charter in force: not only time has passed. */
  @Column({ type: 'boolean' })
  touched!: boolean;

  /** Goes up with whatever makes it due, so that no change is passed over while it is scored. */
  @Column(whole)
  changes!: number;

  /** The charter that scored it, and when; null: it was not scored yet. */
  @Column({ ...whole, nullable: true })
  charter!: number | null;

  @Column({ ...instant, nullable: true })
  scoredAt!: Date | null;
}

/** The columns of a record that no set has scored. */
export const UNSCORED = {
  touched: true,
  changes: 0,
  admitted: 'no',
  scoreSet: null,
  fit: null,
  engagement: null,
  rankOrder: NO_RANK,
  fitBand: null,
  engagementBand: null,
  verdict: null,
  charter: null,
  scoredAt: null,
} as const;
