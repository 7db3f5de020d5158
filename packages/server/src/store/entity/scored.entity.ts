import type { SetScoreCell } from '@relvik/contracts';
import { type Answer, cellKey, type Graded, type VerdictKey } from '@relvik/core';
import { Column } from 'typeorm';
import { key } from './columns';

/** What a score set gave; null: an axis can't be judged. */
export abstract class SetScoreEntity {
  @Column({ type: 'double', nullable: true })
  fit!: number | null;

  @Column({ type: 'double', nullable: true })
  engagement!: number | null;

  /** The rank, or a number below every rank where there is none: lists are ordered by it. */
  @Column({ type: 'double' })
  rankOrder!: number;
}

/** What the score set that grades it gave a lead, or a company. */
export abstract class ScoredEntity extends SetScoreEntity {
  /** Whether a score set admits it; "unjudged": it can't be said which. */
  @Column({ type: 'varchar', length: 8 })
  admitted!: Answer;

  /** The score set that grades it. */
  @Column({ ...key, nullable: true })
  scoreSet!: string | null;

  @Column({ type: 'varchar', length: 16, nullable: true })
  verdict!: VerdictKey | null;

  /** The keys of the bands in which its scores lie: the grade. */
  @Column({ ...key, nullable: true })
  fitBand!: string | null;

  @Column({ ...key, nullable: true })
  engagementBand!: string | null;
}

/** A stored grade by the keys of its bands; null: none. */
export function gradeKey({ fitBand, engagementBand }: Pick<ScoredEntity, 'fitBand' | 'engagementBand'>): string | null {
  return fitBand === null || engagementBand === null ? null : cellKey({ fit: fitBand, engagement: engagementBand });
}

/** Where something without a rank stands in a list: after all that have one. */
export const NO_RANK = -1e9;

/** Stored scores as lists show them. */
export function shownScores({ rankOrder, fit, engagement }: SetScoreEntity): SetScoreCell {
  return { rank: rankOrder === NO_RANK ? null : rankOrder, fit, engagement };
}

/** An appraisal as it is stored. */
export function scoredColumns({ score, grade, rank }: Graded): Pick<ScoredEntity, keyof ScoredEntity> {
  const { admitted, set, fit, engagement } = score;
  return {
    admitted,
    scoreSet: set,
    verdict: grade?.verdict ?? null,
    fit: fit.judged ? fit.score : null,
    engagement: engagement.judged ? engagement.score : null,
    rankOrder: rank ?? NO_RANK,
    fitBand: grade?.bands.fit ?? null,
    engagementBand: grade?.bands.engagement ?? null,
  };
}
