import type { Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { instant, json, key, whole } from './columns';

/** A value sent for a lead but not taken, since it can't be read or its way in is not trusted. */
@Entity('said_value')
@Index('said_value_by_age', ['at', 'record'])
export class SaidValueEntity {
  @PrimaryColumn(whole)
  record!: number;

  @PrimaryColumn(key)
  field!: string;

  @Column(json)
  value!: Value;

  /** By which way in, and its name. */
  @Column({ type: 'varchar', length: 8 })
  way!: 'form' | 'api' | 'csv' | 'hand';

  @Column({ type: 'varchar', length: 120 })
  by!: string;

  @Column(instant)
  at!: Date;
}
