import type { ActivityKind, FieldRole, FieldType } from '@relvik/core';
import { Column, type ColumnOptions, Entity, PrimaryColumn } from 'typeorm';
import { folded, json, key, whole } from './columns';

/** A list whose entries have spellings: `countries`, `regions:US`, `list:industries`, `field:industry`. */
const spelledList = { type: 'varchar', length: 56, charset: 'ascii', collation: 'ascii_bin' } satisfies ColumnOptions;

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

/** Another way in which something of a list is written. */
@Entity('spelling')
export class SpellingEntity {
  @PrimaryColumn(spelledList)
  list!: string;

  /** In the form in which spellings are compared. */
  @PrimaryColumn({ ...folded, length: 190 })
  folded!: string;

  @Column({ type: 'varchar', length: 190 })
  written!: string;

  @Column({ type: 'varchar', length: 190 })
  means!: string;
}

/** A value that a spelling corrected, as it was before. */
@Entity('spelling_correction')
export class SpellingCorrectionEntity {
  @PrimaryColumn(spelledList)
  list!: string;

  @PrimaryColumn({ ...folded, length: 190 })
  folded!: string;

  @PrimaryColumn({ ...whole })
  record!: number;

  @PrimaryColumn(key)
  field!: string;

  @Column({ type: 'text' })
  raw!: string;

  /** The meaning of the spelling at that time. */
  @Column({ type: 'varchar', length: 190 })
  means!: string;
}

/** A region that the admin added under a country. */
@Entity('own_region')
export class OwnRegionEntity {
  @PrimaryColumn({ type: 'varchar', length: 27, charset: 'ascii', collation: 'ascii_bin' })
  code!: string;

  @Column({ type: 'varchar', length: 120 })
  name!: string;
}
