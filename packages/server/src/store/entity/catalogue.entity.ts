import type { ActivityKind, FieldRole, FieldType } from '@relvik/core';
import { Column, Entity, PrimaryColumn } from 'typeorm';
import { folded, json, key, whole } from './columns';

@Entity('field')
export class FieldEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column({ type: 'varchar', length: 16 })
  type!: FieldType;

  @Column({ type: 'varchar', length: 8, nullable: true })
  role!: FieldRole | null;

  /** The field of contact or company that gets what leads say in this one. */
  @Column({ ...key, nullable: true })
  feeds!: string | null;

  /** The list that its options are those of. */
  @Column({ ...key, nullable: true })
  optionList!: string | null;

  @Column(json)
  options!: string[];

  /** Options that are no longer offered, though records may have them. */
  @Column({ ...json, name: 'retired_options' })
  retiredOptions!: string[];

  @Column({ type: 'boolean' })
  retired!: boolean;

  /** It tells who someone is. */
  @Column({ type: 'boolean' })
  personal!: boolean;

  @Column(whole)
  position!: number;
}

/** Options that several fields share. */
@Entity('option_list')
export class OptionListEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  @Column(json)
  options!: string[];

  @Column({ ...json, name: 'retired_options' })
  retiredOptions!: string[];
}

/** A word that some record was tagged with. */
@Entity('tag')
export class TagEntity {
  @PrimaryColumn({ ...folded, length: 190 })
  folded!: string;

  /** As it was written first. */
  @Column({ type: 'varchar', length: 190 })
  word!: string;
}

/** A kind of activity: the standard ones, and what the admin added. */
@Entity('activity_kind')
export class ActivityKindEntity {
  @PrimaryColumn(key)
  key!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;

  /** Who does it: them, or us. */
  @Column({ type: 'varchar', length: 4 })
  by!: ActivityKind['by'];

  @Column({ type: 'boolean' })
  retired!: boolean;

  @Column(whole)
  position!: number;
}

@Entity('rate')
export class RateEntity {
  @PrimaryColumn({ type: 'char', length: 3, charset: 'ascii', collation: 'ascii_bin' })
  currency!: string;

  @PrimaryColumn({ type: 'char', length: 10, charset: 'ascii', collation: 'ascii_bin' })
  fromDay!: string;

  /** Reference currency for one unit, in millionths. */
  @Column({ type: 'bigint' })
  micro!: string;
}

/** The currency in which rates are given: one row. */
@Entity('reference_currency')
export class ReferenceCurrencyEntity {
  @PrimaryColumn({ type: 'tinyint', unsigned: true })
  id!: 1;

  @Column({ type: 'char', length: 3, charset: 'ascii', collation: 'ascii_bin' })
  currency!: string;
}
