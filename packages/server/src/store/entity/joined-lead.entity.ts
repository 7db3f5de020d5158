import type { Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';
import type { LeadEntity } from './lead.entity';

/** What is needed to take a join back. */
export interface JoinUndo {
  /** The younger lead as it was; instants as texts. */
  readonly lead: LeadEntity;
  readonly values: readonly (readonly [field: string, value: Value])[];
  readonly activities: readonly number[];
  readonly changes: readonly number[];
  /** Missing: it had none. */
  readonly tasks?: readonly number[];
  /** Missing: it had none. */
  readonly deals?: readonly number[];
  /** What the older lead got: its value before and after. */
  readonly taken: readonly { readonly field: string; readonly before: Value | null; readonly after: Value }[];
}

/** A lead that was joined into an older one of the same person: its id leads there. */
@Entity('joined_lead')
@Index('joined_lead_by_older', ['older'])
export class JoinedLeadEntity {
  @PrimaryColumn(whole)
  id!: number;

  @Column(whole)
  older!: number;

  @Column(instant)
  at!: Date;

  @Column(key)
  person!: string;

  @Column(json)
  undo!: JoinUndo;
}
