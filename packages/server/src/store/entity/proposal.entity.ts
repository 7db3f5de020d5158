import type { Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';

/** `taken`: a person moved the record where they saw fit; `withdrawn`: the gate does not ask any more. */
export type ProposalState = 'open' | 'taken' | 'refused' | 'withdrawn';

/**
 * Why a question was withdrawn: its gate does not hold any more; the record left the stage, was closed, or was joined into another; no gate of
 * the charter in force asks it.
 */
export type Withdrawal = 'not-true' | 'left-stage' | 'closed' | 'joined' | 'gate-gone';

/** How a record was before a person decided. */
export interface ProposalUndo {
  /** When it had entered the stage in which it stood. */
  readonly stageSince: number;
  /** Values that gates changed with it, by field: before, null where blank, and after. Missing: none. */
  readonly values?: Readonly<Record<string, { readonly before: Value | null; readonly after: Value }>>;
}

/** A proposal about a lead: a gate's question to a person, and the decision. */
@Entity('proposal')
@Index('proposal_once', ['record', 'openGate'], { unique: true })
@Index('proposal_by_state', ['state', 'askedAt', 'id'])
@Index('proposal_by_gate', ['gate', 'decidedAt'])
export class ProposalEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(whole)
  record!: number;

  @Column(key)
  gate!: string;

  /** The gate while the question is open: a gate asks one at a time. */
  @Column({ ...key, nullable: true })
  openGate!: string | null;

  /** The look of the gate: it stands as long as this look is true. */
  @Column({ type: 'varchar', length: 64, charset: 'ascii', collation: 'ascii_bin' })
  look!: string;

  /** The stage in which the record stood. */
  @Column(key)
  stage!: string;

  /** The rule's pick when it asked. */
  @Column(key)
  pick!: string;

  @Column(whole)
  charter!: number;

  @Column(instant)
  askedAt!: Date;

  /** The team or queue that is asked while the record has no owner. */
  @Column({ ...key, nullable: true })
  team!: string | null;

  @Column({ ...key, nullable: true })
  queue!: string | null;

  @Column({ type: 'varchar', length: 10 })
  state!: ProposalState;

  /** The stage to which a person moved the record. */
  @Column({ ...key, nullable: true })
  answer!: string | null;

  /** The rule's pick at that moment; null: it would not have asked. */
  @Column({ ...key, nullable: true })
  rule!: string | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  reason!: string | null;

  @Column({ ...key, nullable: true })
  person!: string | null;

  /** The name of the person at that time. */
  @Column({ type: 'varchar', length: 120 })
  by!: string;

  @Column({ ...instant, nullable: true })
  decidedAt!: Date | null;

  @Column({ type: 'varchar', length: 12, nullable: true })
  why!: Withdrawal | null;

  /** The state before the decision, beside the stage, so that it can be undone. */
  @Column({ ...json, nullable: true })
  undo!: ProposalUndo | null;
}
