import type { RedrawChoice } from '@relvik/contracts';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { instant, key, whole } from './columns';

/** The choice made for leads with an owner whose territory a charter changed. */
@Entity('redraw')
export class RedrawEntity {
  /** The number of the charter. */
  @PrimaryColumn(whole)
  charter!: number;

  @Column({ type: 'varchar', length: 9 })
  choice!: RedrawChoice;

  @Column({ type: 'varchar', length: 120 })
  by!: string;

  @Column(instant)
  at!: Date;
}

/** A lead that was handed on, with its former and new owner, for undoing. */
@Entity('redraw_move')
export class RedrawMoveEntity {
  @PrimaryColumn(whole)
  charter!: number;

  @PrimaryColumn(whole)
  record!: number;

  @Column(key)
  from!: string;

  /** Null: not to a person. */
  @Column({ ...key, nullable: true })
  to!: string | null;
}
