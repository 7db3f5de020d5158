import type { Handling, RecordKind, Raw, Value } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { handling, instant, json, key, whole } from './columns';

/** A file of records of one kind: its rows are staged, then taken in by the background job. */
@Entity('import_file')
@Index('import_file_once', ['kept'], { unique: true })
@Index('import_file_by_state', ['state', 'id'])
export class ImportFileEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  /** Of its text: the same file again is known by it. */
  @Column({ type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin' })
  hash!: string;

  /** The same until the import is undone: one import of a file. */
  @Column({ type: 'char', length: 64, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  kept!: string | null;

  @Column({ type: 'varchar', length: 7, charset: 'ascii', collation: 'ascii_bin' })
  kind!: RecordKind;

  @Column({ type: 'varchar', length: 200 })
  name!: string;

  @Column({ type: 'varchar', length: 8 })
  state!: 'running' | 'done' | 'undoing' | 'undone';

  /** How far rules are asked of its leads. */
  @Column(handling)
  handling!: Handling;

  @Column(whole)
  rows!: number;

  /** Who brought it. */
  @Column(key)
  person!: string;

  @Column({ type: 'varchar', length: 120 })
  by!: string;

  @Column(instant)
  at!: Date;

  @Column({ ...instant, nullable: true })
  endedAt!: Date | null;
}

/** A company by its name, a contact by its e-mail, a stage by its key or name. */
export interface NamedTies {
  readonly company?: string;
  readonly contact?: string;
  readonly stage?: string;
  readonly pipeline?: string;
}

export interface RowNote {
  readonly field: string;
  readonly message: string;
}

/** One row of a file, and what became of it. */
@Entity('import_row')
@Index('import_row_by_state', ['file', 'state', 'row'])
@Index('import_row_by_record', ['record'])
export class ImportRowEntity {
  @PrimaryColumn(whole)
  file!: number;

  /** From 1, without the header. */
  @PrimaryColumn(whole)
  row!: number;

  @Column({ type: 'varchar', length: 8 })
  state!: 'waiting' | 'accepted' | 'joined' | 'refused' | 'undone' | 'kept';

  @Column(json)
  values!: Readonly<Record<string, Raw>>;

  /** The company and contact that the row names, and the stage of a deal. */
  @Column({ ...json, nullable: true })
  ties!: NamedTies | null;

  @Column({ ...key, nullable: true })
  owner!: string | null;

  @Column({ ...whole, nullable: true })
  record!: number | null;

  @Column({ ...instant, nullable: true })
  takenAt!: Date | null;

  /** Why it was refused, or what of it can't be read. */
  @Column(json)
  notes!: readonly RowNote[];

  /** For a row that joined a known record: the values that it replaced, and those it brought. */
  @Column({ ...json, nullable: true })
  replaced!: readonly { readonly field: string; readonly before: Value | null; readonly after: Value }[] | null;
}
