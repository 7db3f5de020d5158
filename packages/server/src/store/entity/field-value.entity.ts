import type { Origin, Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, foldedText, instant, key, whole } from './columns';

/** One field of one record. Fields that the admin adds are rows here, never columns. */
@Entity('field_value')
@Index('field_value_by_text', ['field', 'folded'])
@Index('field_value_by_number', ['field', 'number', 'currency', 'day'])
export class FieldValueEntity {
  @PrimaryColumn(whole)
  record!: number;

  @PrimaryColumn(key)
  field!: string;

  @Column({ type: 'varchar', length: 12 })
  kind!: Exclude<Value['kind'], 'blank'>;

  /** As people read it; what can't be read, as it came. */
  @Column({ type: 'text' })
  shown!: string;

  /** The first characters of the folded text, for searching. */
  @Column({ ...folded, length: 190, nullable: true })
  folded!: string | null;

  /** Of several options the whole folded combination, for asking which are among them. */
  @Column({ ...foldedText, nullable: true })
  choices!: string | null;

  /** Scaled number, or money in minor units; yes is 1, no 0. */
  @Column({ type: 'bigint', nullable: true })
  number!: string | null;

  @Column({ type: 'char', length: 3, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  currency!: string | null;

  /** The day itself, or the day on which an amount was entered. */
  @Column({ type: 'char', length: 10, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  day!: string | null;

  /** Why it can't be read. */
  @Column({ type: 'varchar', length: 120, nullable: true })
  why!: string | null;

  @Column({ type: 'varchar', length: 9, charset: 'ascii', collation: 'ascii_bin', default: 'trusted' })
  origin!: Origin;

  /** When the record got it; null: when it came in. */
  @Column({ ...instant, nullable: true })
  setAt!: Date | null;
}
