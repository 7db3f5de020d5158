import type { ListQuery } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { json, key } from './columns';

/** A list of records of one kind under a name: somebody's own, or for all. */
@Entity('saved_view')
@Index('saved_view_by_person', ['person'])
@Index('saved_view_by_sharing', ['shared'])
export class SavedViewEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(key)
  person!: string;

  @Column({ type: 'varchar', length: 80 })
  name!: string;

  /** The kind of the records that it lists. */
  @Column({ type: 'varchar', length: 7, charset: 'ascii', collation: 'ascii_bin', default: 'lead' })
  kind!: RecordKind;

  @Column({ type: 'boolean' })
  shared!: boolean;

  @Column(json)
  query!: ListQuery;
}
