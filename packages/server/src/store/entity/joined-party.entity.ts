import type { Origin, TieKind, Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';

/** The data with which a join of two contacts or companies is undone. */
export interface PartyUndo {
  /** The younger as its row was. */
  readonly row: Readonly<Record<string, unknown>>;
  readonly values: readonly { readonly field: string; readonly value: Value; readonly origin: Origin }[];
  /** The ids of the rows that moved to the older, by table. */
  readonly moved: Readonly<Record<string, readonly number[]>>;
  /** Its names and domains, or e-mails. */
  readonly keys: readonly { readonly kind: 'name' | 'domain' | 'email'; readonly text: string }[];
  /** Fields of the older that changed, with the values before and after. */
  readonly taken: readonly { readonly field: string; readonly before: Value | null; readonly after: Value }[];
  /** The owner that the older got; null: it kept its own. */
  readonly owner: string | null;
}

/** A contact or company that was joined into an older one: its id leads there. */
@Entity('joined_party')
@Index('joined_party_by_older', ['older'])
export class JoinedPartyEntity {
  @PrimaryColumn(whole)
  id!: number;

  @Column({ type: 'varchar', length: 7, charset: 'ascii', collation: 'ascii_bin' })
  kind!: TieKind;

  @Column(whole)
  older!: number;

  @Column(instant)
  at!: Date;

  @Column(key)
  person!: string;

  @Column(json)
  undo!: PartyUndo;
}
